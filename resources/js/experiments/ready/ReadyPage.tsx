import { useState } from 'react';
import { Link } from 'react-router';
import type { Experiment, Site } from '../../api/client';
import { useReady, type ReadyPoint } from '../../api/life';
import { address } from '../../app/address';
import { Button, ButtonLink } from '../../parts/Button';
import { LINKS } from '../../parts/chain';
import { plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { ReachProgress } from '../known/ReachView';
import { ReadyMark } from './ReadyMark';

/** What speaks for and against a start, along the chain; beside each point its evidence, and the way to mend it. */
export function ReadyPage({ site, experiment }: { site: Site; experiment: Experiment }) {
    const [round, setRound] = useState(0);
    const ready = useReady(site.key, experiment.key, experiment.revision, round);
    const points = ready.result?.points ?? [];
    const of = (state: ReadyPoint['state']): number => points.filter((point) => point.state === state).length;

    return (
        <div className="mx-auto max-w-7xl px-5 pt-3 pb-10">
            <div className="mb-3 flex flex-wrap items-center gap-x-6 gap-y-2">
                <p role="status" data-ready={ready.isRunning ? 'looking' : 'there'}>
                    {points.length > 0 && (
                        <>
                            <strong>
                                {of('blocker') === 0 ? 'Nothing keeps it from starting.' : `${plural(of('blocker'), 'blocker')}.`}
                            </strong>{' '}
                            {plural(of('advice'), 'advice').replace('advices', 'pieces of advice')}, {of('fine')} in order.
                        </>
                    )}
                </p>
                <ReachProgress reach={ready} />
                <Button onClick={() => setRound(round + 1)} disabled={ready.isRunning} className="ml-auto">
                    Look again
                </Button>
            </div>
            {[null, ...LINKS].map((link) => {
                const own = points.filter((point) => point.link === (link?.link ?? null));

                return own.length === 0 ? null : (
                    <section
                        key={link?.link ?? 'what'}
                        aria-label={link?.label ?? 'What it is'}
                        className="mb-3 border border-line bg-leaf"
                    >
                        <h2 className="border-b border-line px-4 py-1.5 font-semibold">{link?.label ?? 'What it is'}</h2>
                        <ul>
                            {own.map((point, i) => (
                                <li
                                    key={`${point.code} ${i}`}
                                    data-point={point.code}
                                    data-state={point.state}
                                    className="grid grid-cols-[1.6rem_15rem_1fr_auto] items-start gap-x-3 border-b border-line px-4 py-1.5 last:border-0 max-md:grid-cols-[1.6rem_1fr]"
                                >
                                    <ReadyMark state={point.state} />
                                    <span className={point.state === 'blocker' ? 'font-semibold' : ''}>{point.label}</span>
                                    <span className="max-md:col-start-2">
                                        {point.words}{' '}
                                        {point.at && (
                                            <span className="text-sm text-soft">
                                                Seen <Moment at={point.at} />.
                                            </span>
                                        )}
                                        {point.examples.map((one) => (
                                            <span key={one} className="block font-mono text-xs break-all text-soft">
                                                {one}
                                            </span>
                                        ))}
                                    </span>
                                    <span className="max-md:col-start-2">
                                        {point.state !== 'fine' && <Mend site={site.key} experiment={experiment.key} point={point} />}
                                    </span>
                                </li>
                            ))}
                        </ul>
                    </section>
                );
            })}
            {points.length > 0 && experiment.state === 'draft' && (
                <p className="text-sm text-soft">
                    Whoever starts over a blocker says why; the reason is shown on the experiment as long as it runs.{' '}
                    <Link to={address.experiment(site.key, experiment.key)} className="text-accent underline">
                        Back to the draft
                    </Link>
                </p>
            )}
        </div>
    );
}

/** Leads to where a point is mended. */
function Mend({ site, experiment, point }: { site: string; experiment: string; point: ReadyPoint }) {
    const [to, label] = placeOf(site, experiment, point);

    return (
        <ButtonLink to={to} aria-label={`${label}: ${point.label}`} data-mend={point.code}>
            {label}
        </ButtonLink>
    );
}

function placeOf(site: string, experiment: string, point: ReadyPoint): [string, string] {
    switch (point.mended_at) {
        case 'plan':
            return [address.experimentView(site, experiment, 'plan'), 'Plan it'];
        case 'rehearsal':
            return [address.experimentView(site, experiment, 'rehearsal'), 'Rehearse it'];
        case 'coverage':
            return [address.coverage(site), 'See its pages'];
        case 'feed':
            return [address.feed(site), 'Mark your visits'];
        case 'capture':
            return [address.capture(site), 'See what is asked'];
        case 'goal':
            return [point.subject ? address.goals(site, point.subject) : address.goals(site), 'See the goal'];
        case 'what':
            return [address.experiment(site, experiment), 'Write it'];
        default: {
            const link = LINKS.find((one) => one.link === point.mended_at);

            return [address.experiment(site, experiment, link?.link), `Go to ${link?.label ?? 'the chain'}`];
        }
    }
}

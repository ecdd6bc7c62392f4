import { Link, useNavigate, useParams } from 'react-router';
import type { Experiment, LinkName, Observations } from '../api/client';
import { useExperiment, useObservations, useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { useKeys } from '../app/keys';
import { LINKS } from '../parts/chain';
import { Counting } from '../parts/Counting';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';
import { Actions } from './Actions';
import { Workbench } from './links/Workbench';

/** One experiment: its chain, and under it what was declared beside what was observed. */
export function ExperimentPage() {
    const site = useSite(useSiteKey());
    const params = useParams();
    const key = params.experiment ?? '';
    const experiment = useExperiment(useSiteKey(), key);
    const observations = useObservations(useSiteKey(), key);
    const chosen = LINKS.find(({ link }) => link === params.link)?.link;

    return (
        <Waiting query={experiment}>
            {(declared) => (
                <>
                    <Head experiment={declared} updated={observations.dataUpdatedAt} />
                    <Waiting query={observations}>
                        {(observed) => (
                            <>
                                <Chain experiment={declared} observed={observed} chosen={chosen} />
                                <Counting counted={observed.counted} className="mx-auto max-w-7xl px-5 pt-2" />
                                <Waiting query={site}>
                                    {(known) => <Workbench site={known} experiment={declared} observed={observed} chosen={chosen} />}
                                </Waiting>
                            </>
                        )}
                    </Waiting>
                </>
            )}
        </Waiting>
    );
}

function Head({ experiment, updated }: { experiment: Experiment; updated: number }) {
    return (
        <div className="mx-auto flex max-w-7xl flex-wrap items-start gap-x-8 gap-y-2 px-5 pt-4 pb-3">
            <div className="min-w-64 flex-1">
                <h1 className="text-xl font-semibold">{experiment.name}</h1>
                <p className="text-sm text-soft">
                    <span className="font-mono text-xs">{experiment.key}</span> · {experiment.state}
                    {experiment.started_at && (
                        <>
                            {' '}
                            · began <Moment at={experiment.started_at} />
                        </>
                    )}
                    {experiment.ended_at && (
                        <>
                            {' '}
                            · ended <Moment at={experiment.ended_at} />
                        </>
                    )}
                    {updated > 0 && (
                        <>
                            {' '}
                            · read <Moment at={new Date(updated).toISOString()} seconds />
                        </>
                    )}
                </p>
                {experiment.hypothesis && <p className="mt-1 max-w-3xl">{experiment.hypothesis}</p>}
            </div>
            <Actions experiment={experiment} />
        </div>
    );
}

function Chain({ experiment, observed, chosen }: { experiment: Experiment; observed: Observations; chosen?: LinkName }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const go = (step: number): void => {
        // Seven links and, before the first, the whole chain.
        const at = LINKS.findIndex(({ link }) => link === chosen) + step;
        if (at >= -1 && at < LINKS.length) {
            navigate(address.experiment(site, experiment.key, LINKS[at]?.link));
        }
    };
    useKeys({ '[': () => go(-1), ']': () => go(1) });

    return (
        <div className="sticky top-0 z-10 border-y border-line bg-leaf">
            <nav aria-label="Signal chain" className="mx-auto flex max-w-7xl overflow-x-auto px-5">
                <Segment to={address.experiment(site, experiment.key)} chosen={!chosen}>
                    Whole chain
                </Segment>
                {LINKS.map(({ link, label }) => {
                    const judged = observed.chain.links.find((one) => one.link === link);

                    return (
                        <Segment
                            key={link}
                            to={address.experiment(site, experiment.key, link)}
                            chosen={link === chosen}
                            title={judged?.words}
                        >
                            <span aria-hidden="true" className="mr-2 -ml-4 h-px w-4 bg-line" />
                            {judged && <StateMark state={judged.state} />}
                            <span className="ml-2">{label}</span>
                        </Segment>
                    );
                })}
            </nav>
            <p className="mx-auto max-w-7xl border-t border-line px-5 py-1.5" role="status">
                {observed.chain.words}
            </p>
        </div>
    );
}

function Segment({ to, chosen, title, children }: { to: string; chosen: boolean; title?: string; children: React.ReactNode }) {
    return (
        <Link
            to={to}
            title={title}
            aria-current={chosen ? 'page' : undefined}
            className="flex flex-1 items-center justify-center border-b-3 border-transparent px-4 py-2 whitespace-nowrap hover:bg-ground aria-[current]:border-accent aria-[current]:font-semibold"
        >
            {children}
        </Link>
    );
}

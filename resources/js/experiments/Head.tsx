import type { ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Experiment, LinkName, Observations, Schemas } from '../api/client';
import { address, useSiteKey } from '../app/address';
import { useKeys } from '../app/keys';
import { LINKS } from '../parts/chain';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { useTitle } from '../parts/useTitle';
import { Standing } from './life/Standing';

/** The name of an experiment, where it stands, and what can be done with it. */
interface HeadProps {
    experiment: Experiment;
    /** Of one that runs, what arrives of it. */
    received?: Observations['received'];
    updated?: number;
    children: ReactNode;
}

export function Head({ experiment, received, updated = 0, children }: HeadProps) {
    useTitle(`${experiment.name} · ${received?.words ?? experiment.state}`);

    return (
        <div className="mx-auto flex max-w-7xl flex-wrap items-start gap-x-8 gap-y-2 px-5 pt-4 pb-3">
            <div className="min-w-64 flex-1">
                <h1 className="text-xl font-semibold break-words">{experiment.name}</h1>
                <p className="text-sm text-soft">
                    <span className="font-mono text-xs">{experiment.key}</span> ·{' '}
                    <span className={received?.silent ? 'font-semibold text-broken' : ''} data-figure="stage">
                        {received?.words ?? experiment.state}
                    </span>
                    {experiment.owner && ` · ${experiment.owner}`}
                    {experiment.labels.map((label) => (
                        <span key={label} className="ml-1 border border-line px-1 text-xs">
                            {label}
                        </span>
                    ))}
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
                <Standing experiment={experiment} />
                <Views experiment={experiment.key} />
            </div>
            {children}
        </div>
    );
}

/** What there is to an experiment beside its chain. */
function Views({ experiment }: { experiment: string }) {
    const site = useSiteKey();
    const { link: view } = useParams();
    const onChain = !VIEWS.some((one) => one.view === view);
    const look = (is: boolean): string => (is ? 'py-0.5 font-semibold text-ink' : 'py-0.5 text-accent underline underline-offset-4');

    return (
        <nav aria-label="Views of the experiment" className="mt-1.5 flex flex-wrap gap-x-5 gap-y-1 text-sm">
            <Link to={address.experiment(site, experiment)} aria-current={onChain ? 'page' : undefined} className={look(onChain)}>
                Chain
            </Link>
            {VIEWS.map((one) => (
                <Link
                    key={one.view}
                    to={address.experimentView(site, experiment, one.view)}
                    aria-current={view === one.view ? 'page' : undefined}
                    className={look(view === one.view)}
                >
                    {one.label}
                </Link>
            ))}
        </nav>
    );
}

const VIEWS = [
    { view: 'plan', label: 'Plan' },
    { view: 'ready', label: 'Ready list' },
    { view: 'preview', label: 'Preview' },
    { view: 'rehearsal', label: 'Rehearsal' },
    { view: 'audits', label: 'Audits' },
    { view: 'readout', label: 'Readout' },
    { view: 'logbook', label: 'Logbook' },
] as const;

/** Something that is missing or doubtful, and the link that it belongs to; null for the whole. */
export interface Open {
    link: LinkName | null;
    severity: Schemas['AdviceSeverity'];
}

interface ChainProps {
    experiment: Experiment;
    observed: Observations;
    /** Null where none of it is looked at. */
    chosen?: LinkName | null;
    open?: Open[];
    /** What is shown where no link is chosen. */
    first: string;
    children?: ReactNode;
}

/** The chain as the navigation of an experiment, with what is open at each link of a draft. */
export function ChainBar({ experiment, observed, chosen, open = [], first, children }: ChainProps) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const go = (step: number): void => {
        // Seven links and, before the first, the whole.
        const at = LINKS.findIndex(({ link }) => link === chosen) + step;
        if (at >= -1 && at < LINKS.length) {
            navigate(address.experiment(site, experiment.key, LINKS[at]?.link));
        }
    };
    useKeys({ '[': () => go(-1), ']': () => go(1) });

    return (
        <div className="sticky top-0 z-10 border-y border-line bg-leaf">
            <nav aria-label="Signal chain" className="mx-auto flex max-w-7xl overflow-x-auto px-5">
                <Segment to={address.experiment(site, experiment.key)} chosen={chosen === undefined}>
                    {first}
                    <OpenMark open={open.filter((one) => one.link === null)} />
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
                            <OpenMark open={open.filter((one) => one.link === link)} />
                        </Segment>
                    );
                })}
            </nav>
            <div className="mx-auto flex max-w-7xl flex-wrap items-center justify-between gap-x-6 border-t border-line px-5 py-1.5">
                {children ?? <p role="status">{observed.chain.words}</p>}
            </div>
        </div>
    );
}

function OpenMark({ open }: { open: Open[] }) {
    const missing = open.filter(({ severity }) => severity === 'missing').length;
    const doubtful = open.filter(({ severity }) => severity === 'doubt').length;

    return (
        <>
            {missing > 0 && (
                <span
                    role="img"
                    className="ml-1.5 bg-broken px-1 text-xs text-white"
                    aria-label={`${missing} missing`}
                    title={`${missing} missing`}
                >
                    {missing}
                </span>
            )}
            {doubtful > 0 && (
                <span
                    role="img"
                    className="ml-1.5 border border-doubt px-1 text-xs text-doubt-ink"
                    aria-label={`${doubtful} doubtful`}
                    title={`${doubtful} doubtful`}
                >
                    {doubtful}
                </span>
            )}
        </>
    );
}

function Segment({ to, chosen, title, children }: { to: string; chosen: boolean; title?: string; children: ReactNode }) {
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

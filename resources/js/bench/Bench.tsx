import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { Experiment, Schemas } from '../api/client';
import { useChains, useExperiments } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { useKeys } from '../app/keys';
import { ButtonLink } from '../parts/Button';
import { LINKS, severity } from '../parts/chain';
import { count } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';

const STAGES: Schemas['Stage'][] = ['running', 'draft', 'paused', 'ended', 'archived'];

type Chain = ReturnType<typeof useChains>['data'] extends (infer T)[] | undefined ? T : never;

/** Every experiment with its chain: what is running and worst comes first. */
export function Bench() {
    const site = useSiteKey();
    const experiments = useExperiments(site);
    const chains = useChains(site);
    const [params] = useSearchParams();
    const stage = params.get('state');

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <div className="mb-3 flex flex-wrap items-baseline gap-x-6 gap-y-2">
                <h1 className="text-xl font-semibold">Bench</h1>
                <Waiting query={experiments}>{(all) => <StageFilter all={all} chosen={stage} />}</Waiting>
                <ButtonLink look="main" to={address.newExperiment(site)} className="ml-auto">
                    Make an experiment
                </ButtonLink>
            </div>
            <Waiting query={experiments}>
                {(all) => (
                    <Waiting query={chains}>
                        {(known) => {
                            const shown = sorted(all, known).filter(([one]) => !stage || one.state === stage);

                            return shown.length === 0 ? <Nothing any={all.length > 0} /> : <Rows rows={shown} />;
                        }}
                    </Waiting>
                )}
            </Waiting>
        </div>
    );
}

function sorted(experiments: Experiment[], chains: Chain[]): [Experiment, Chain | undefined][] {
    const rows = experiments.map((one): [Experiment, Chain | undefined] => [one, chains.find((chain) => chain.experiment === one.key)]);
    const place = ([one, chain]: [Experiment, Chain | undefined]): number =>
        STAGES.indexOf(one.state) * 10 + (chain ? severity(chain.links) : 9);

    return rows.sort((a, b) => place(a) - place(b));
}

function StageFilter({ all, chosen }: { all: Experiment[]; chosen: string | null }) {
    const choices = [null, ...STAGES.filter((stage) => all.some((one) => one.state === stage))];

    return (
        <nav aria-label="Filter by state" className="flex flex-wrap gap-x-4">
            {choices.map((stage) => (
                <Link
                    key={stage}
                    to={stage ? `?state=${stage}` : '?'}
                    aria-current={stage === chosen ? 'true' : undefined}
                    className="inline-block py-0.5 leading-6 text-accent underline-offset-4 hover:underline aria-[current]:font-semibold aria-[current]:text-ink"
                >
                    {stage ?? 'all'} {stage ? all.filter((one) => one.state === stage).length : all.length}
                </Link>
            ))}
        </nav>
    );
}

function Nothing({ any }: { any: boolean }) {
    return (
        <div className="border-y border-line bg-leaf p-10 text-center">
            <p className="mx-auto max-w-xl">
                {any
                    ? 'No experiment is in this state.'
                    : 'There is no experiment yet. Make one: name the page, say what each variant changes, and which page counts as the goal. Pellix then shows, link by link, whether it works.'}
            </p>
        </div>
    );
}

function Rows({ rows }: { rows: [Experiment, Chain | undefined][] }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const [at, setAt] = useState(-1);
    const body = useRef<HTMLTableSectionElement>(null);
    const move = (step: number): void => setAt((now) => Math.min(rows.length - 1, Math.max(0, now + step)));
    useKeys({ j: () => move(1), k: () => move(-1), Enter: () => at >= 0 && navigate(address.experiment(site, rows[at][0].key)) });
    useEffect(() => {
        body.current?.children[at]?.scrollIntoView({ block: 'nearest' });
    }, [at]);

    return (
        <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="Experiments">
            <table className="w-full">
                <thead className="border-b border-line text-left text-sm text-soft">
                    <tr>
                        <th scope="col" className="w-full py-1.5 pl-4 font-normal">
                            Experiment
                        </th>
                        {LINKS.map(({ link, label }) => (
                            <th key={link} scope="col" className="min-w-17 px-1 text-center font-normal">
                                {label}
                            </th>
                        ))}
                        <th scope="col" className="px-4 text-right font-normal">
                            Visitors
                        </th>
                        <th scope="col" className="pr-4 text-right font-normal whitespace-nowrap">
                            Last exposure
                        </th>
                    </tr>
                </thead>
                <tbody ref={body}>
                    {rows.map(([one, chain], i) => (
                        <Row key={one.key} experiment={one} chain={chain} chosen={i === at} />
                    ))}
                </tbody>
            </table>
        </div>
    );
}

function Row({ experiment, chain, chosen }: { experiment: Experiment; chain?: Chain; chosen: boolean }) {
    const site = useSiteKey();

    return (
        <tr
            className={`border-b border-line align-top last:border-0 hover:bg-ground ${chosen ? 'bg-ground outline-2 -outline-offset-2 outline-accent' : ''}`}
        >
            <td className="min-w-64 py-2 pr-4 pl-4">
                <Link
                    to={address.experiment(site, experiment.key)}
                    className="font-semibold text-accent underline-offset-4 hover:underline"
                >
                    {experiment.name}
                </Link>{' '}
                <span className="text-sm text-soft">
                    {experiment.state} · <span className="font-mono text-xs">{experiment.key}</span>
                </span>
                <p className="text-sm">{chain?.words}</p>
            </td>
            {LINKS.map(({ link, label }, i) => {
                const judged = chain?.links.find((one) => one.link === link);

                return (
                    <td key={link} className="relative px-1 py-2.5 text-center">
                        {/* The hairline that makes seven marks one chain. */}
                        <span
                            aria-hidden="true"
                            className={`absolute top-5 h-px bg-line ${i === 0 ? 'left-1/2' : 'left-0'} ${i === LINKS.length - 1 ? 'right-1/2' : 'right-0'}`}
                        />
                        {judged && (
                            <Link
                                to={address.experiment(site, experiment.key, link)}
                                title={judged.words}
                                aria-label={`${label}: ${judged.state}`}
                                className="relative inline-block bg-leaf px-1"
                            >
                                <StateMark state={judged.state} size={18} />
                            </Link>
                        )}
                    </td>
                );
            })}
            <td className="px-4 py-2 text-right">
                {chain ? count(chain.visitors) : ''}
                {chain?.counting === 'building' && <span className="block text-xs text-doubt-ink">being counted</span>}
            </td>
            <td className="py-2 pr-4 text-right text-sm">{chain && <Moment at={chain.last_exposure} />}</td>
        </tr>
    );
}

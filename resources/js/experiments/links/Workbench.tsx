import type { ReactNode } from 'react';
import type { Experiment, LinkName, LinkState, Observations, Site } from '../../api/client';
import { LINKS } from '../../parts/chain';
import { Moment } from '../../parts/Moment';
import { StateMark } from '../../parts/StateMark';
import { DataRows } from './DataRows';
import { EntryRows, PageRows, SnippetRows } from './EarlyRows';
import { ExposureRows } from './ExposureRows';
import { GoalRows } from './GoalRows';
import { SplitRows } from './SplitRows';

export interface Sides {
    site: Site;
    experiment: Experiment;
    observed: Observations;
    /** Whether only this link is shown, with everything that stands behind its figures. */
    deep: boolean;
}

const ROWS: Record<LinkName, (sides: Sides) => ReactNode> = {
    page: PageRows,
    snippet: SnippetRows,
    entry: EntryRows,
    split: SplitRows,
    exposure: ExposureRows,
    goals: GoalRows,
    data: DataRows,
};

/** Two leaves: Declared on the left, Observed on the right, row against row, and the verdict on the spine between them. */
export function Workbench({ chosen, ...sides }: Omit<Sides, 'deep'> & { chosen?: LinkName }) {
    const shown = LINKS.filter(({ link }) => !chosen || link === chosen);

    return (
        <div className="mx-auto max-w-7xl px-5 pb-10">
            <div className="leaves text-sm text-soft max-md:hidden" aria-hidden="true">
                <h2 className="py-2 pl-4">Declared</h2>
                <span />
                <h2 className="py-2 pl-4">Observed</h2>
            </div>
            {shown.map(({ link, label, question }) => {
                const judged = sides.observed.chain.links.find((one) => one.link === link);
                const Rows = ROWS[link];

                return (
                    <section key={link} aria-label={label} className="mb-3 max-md:mt-3">
                        <div className="leaves">
                            <div className="border-x border-t border-line bg-leaf px-4 pt-2 pb-1 max-md:order-2">
                                <h3 className="font-semibold">{label}</h3>
                                <p className="text-sm text-soft">{question}</p>
                            </div>
                            <Spine state={judged?.state ?? 'unseen'} />
                            <div className="border-x border-t border-line bg-leaf px-4 pt-2 pb-1 max-md:order-3 max-md:col-start-2">
                                <p className="font-semibold">
                                    <span className="font-normal text-soft">{judged?.state}: </span>
                                    {judged?.words}
                                </p>
                            </div>
                        </div>
                        <Rows {...sides} deep={link === chosen} />
                        {link === chosen && judged && judged.evidence.length > 0 && <EvidenceList evidence={judged.evidence} />}
                    </section>
                );
            })}
        </div>
    );
}

export function Spine({ state }: { state: LinkState }) {
    return (
        <div className="relative flex items-center justify-center max-md:order-1 max-md:row-span-2 max-md:items-start max-md:pt-3">
            <span aria-hidden="true" className="absolute top-1/2 h-px w-full bg-line max-md:hidden" />
            <span className="relative bg-ground px-1.5 max-md:px-0">
                <StateMark state={state} size={26} />
            </span>
        </div>
    );
}

export function EvidenceList({ evidence }: { evidence: { what: string; at: string | null; by: string }[] }) {
    return (
        <div className="mt-4">
            <h3 className="mb-1 font-semibold">Evidence</h3>
            <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="Evidence">
                <table className="w-full">
                    <thead className="border-b border-line text-left text-sm text-soft">
                        <tr>
                            <th className="w-full px-4 py-1 font-normal">What was seen</th>
                            <th className="px-4 font-normal whitespace-nowrap">When last</th>
                            <th className="px-4 font-normal">By what</th>
                        </tr>
                    </thead>
                    <tbody>
                        {evidence.map((one) => (
                            <tr key={one.what} className="border-b border-line last:border-0">
                                <td className="px-4 py-1.5">{one.what}</td>
                                <td className="px-4">
                                    <Moment at={one.at} seconds />
                                </td>
                                <td className="px-4 whitespace-nowrap">{one.by}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
        </div>
    );
}

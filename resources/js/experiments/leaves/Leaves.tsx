import type { ReactNode } from 'react';
import type { LinkName } from '../../api/client';
import { LINKS } from '../../parts/chain';
import { SnippetRows } from '../links/EarlyRows';
import { EvidenceList, Spine } from '../links/Workbench';
import { DataLeaf } from './DataLeaf';
import type { LeafSides } from './Editor';
import { EntryLeaf } from './EntryLeaf';
import { ExposureLeaf } from './ExposureLeaf';
import { GoalsLeaf } from './GoalsLeaf';
import { PageLeaf } from './PageLeaf';
import { SplitLeaf } from './SplitLeaf';
import { WhatLeaf } from './WhatLeaf';

const LEAVES: Record<LinkName, (sides: LeafSides) => ReactNode> = {
    page: PageLeaf,
    snippet: (sides) => <SnippetRows {...sides} deep />,
    entry: EntryLeaf,
    split: SplitLeaf,
    exposure: ExposureLeaf,
    goals: GoalsLeaf,
    data: DataLeaf,
};

/** The two leaves of one link while it is edited: what is declared on the left, what is known about that on the right. */
export function Leaves({ chosen, ...sides }: LeafSides & { chosen?: LinkName }) {
    const link = LINKS.find((one) => one.link === chosen);
    const judged = sides.observed.chain.links.find((one) => one.link === chosen);
    const Leaf = chosen ? LEAVES[chosen] : WhatLeaf;

    return (
        <div className="is-edited mx-auto max-w-7xl px-5 pb-6">
            <div className="leaves text-sm text-soft max-md:hidden" aria-hidden="true">
                <h2 className="py-2 pl-4">Declared</h2>
                <span />
                <h2 className="py-2 pl-4">Known already</h2>
            </div>
            <section aria-label={link?.label ?? 'What it is'} className="mb-3">
                <div className="leaves">
                    <div className="border-x border-t border-line bg-leaf px-4 pt-2 pb-1">
                        <h3 className="font-semibold">{link?.label ?? 'What it is'}</h3>
                        <p className="text-sm text-soft">{link ? ASKED[link.link] : 'Its name, why it is made, and who looks after it.'}</p>
                    </div>
                    {judged ? <Spine state={judged.state} /> : <span />}
                    <div className="border-x border-t border-line bg-leaf px-4 pt-2 pb-1">
                        <p className="font-semibold">
                            {judged ? (
                                <>
                                    <span className="font-normal text-soft">{judged.state}: </span>
                                    {judged.words}
                                </>
                            ) : (
                                'What is missing or doubtful'
                            )}
                        </p>
                    </div>
                </div>
                <Leaf {...sides} />
                {judged && judged.evidence.length > 0 && <EvidenceList evidence={judged.evidence} />}
            </section>
        </div>
    );
}

const ASKED: Record<LinkName, string> = {
    page: 'On which pages it is, and when it starts there.',
    snippet: 'What must stand on those pages.',
    entry: 'Who may enter, and how many of them.',
    split: 'Which variants there are, and who gets which.',
    exposure: 'What each variant changes.',
    goals: 'What counts.',
    data: 'How long it runs, how long a variant is kept, and notes.',
};

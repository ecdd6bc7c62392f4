import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import type { Experiment, LinkName, Observations, Site } from '../api/client';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { Actions } from './Actions';
import { ChainBar, Head, type Open } from './Head';
import { KeptBar } from './keeping/KeptBar';
import { useKeptDraft } from './keeping/useKeptDraft';
import { Leaves } from './leaves/Leaves';
import { useKnown } from './leaves/useKnown';
import { linkOf } from './draft';

interface Props {
    site: Site;
    experiment: Experiment;
    observed: Observations;
    chosen?: LinkName;
}

/** A draft: edited on the leaves of its chain, and kept as it is typed. */
export function DraftPage({ site, experiment, observed, chosen }: Props) {
    const kept = useKeptDraft(site.key, experiment);
    const { reach, advice } = useKnown(site.key, experiment.key, kept.draft, kept.errors, kept.revision);
    const navigate = useNavigate();
    const latest = useRef(kept);
    useEffect(() => {
        latest.current = kept;
    });
    useEffect(() => {
        const press = (event: KeyboardEvent): void => {
            // A field of its own way back has it first; what no field is in goes back here.
            const inField = (event.target as HTMLElement).closest('input, textarea') !== null;
            if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !inField) {
                event.preventDefault();
                (event.shiftKey ? latest.current.redo : latest.current.undo)();
            }
        };
        addEventListener('keydown', press);

        return () => removeEventListener('keydown', press);
    }, []);
    const open: Open[] = [
        ...Object.keys(kept.errors).map((field) => ({ link: linkOf(field), severity: 'missing' as const })),
        ...(advice.result?.advice ?? [])
            .filter(({ field }) => kept.errors[field] === undefined)
            .map(({ field, severity }) => ({ link: linkOf(field), severity })),
    ];
    const next = NEXT[chosen ?? 'what'];

    return (
        <>
            <Head experiment={{ ...experiment, name: kept.draft.name || experiment.name, hypothesis: '' }}>
                <Actions experiment={experiment} isReady={kept.keeping === 'kept' && Object.keys(kept.errors).length === 0} />
            </Head>
            <ChainBar experiment={experiment} observed={observed} chosen={chosen} open={open} first="What it is">
                <KeptBar kept={kept} />
            </ChainBar>
            <Leaves
                chosen={chosen}
                site={site}
                experiment={experiment}
                observed={observed}
                editor={kept}
                reach={reach}
                advice={advice}
                hasStarted={false}
            />
            {next && (
                <div className="mx-auto max-w-7xl px-5 pb-10">
                    <Button onClick={() => navigate(address.experiment(site.key, experiment.key, next.link))}>
                        Go on to {next.label} →
                    </Button>
                </div>
            )}
        </>
    );
}

/** The links that are written, one after the other. */
const NEXT: Partial<Record<LinkName | 'what', { link: LinkName; label: string }>> = {
    what: { link: 'page', label: 'Page' },
    page: { link: 'entry', label: 'Entry' },
    snippet: { link: 'entry', label: 'Entry' },
    entry: { link: 'split', label: 'Split' },
    split: { link: 'exposure', label: 'Exposure' },
    exposure: { link: 'goals', label: 'Goals' },
    goals: { link: 'data', label: 'Data' },
};

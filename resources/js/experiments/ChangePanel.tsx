import { useBlocker } from 'react-router';
import type { Experiment, LinkName, Observations, Site } from '../api/client';
import { Button } from '../parts/Button';
import { Question } from '../parts/Question';
import { useChangePreview } from '../api/life';
import { useDebounced } from '../parts/useDebounced';
import { mistakes, requestOf } from './draft';
import { useHeldChange } from './keeping/useHeldChange';
import { Leaves } from './leaves/Leaves';
import { useKnown } from './leaves/useKnown';

interface Props {
    site: Site;
    experiment: Experiment;
    observed: Observations;
    chosen?: LinkName;
    onDone: () => void;
}

/** The leaf of a link of an experiment that has started, while it is being changed. */
export function ChangePanel({ site, experiment, observed, chosen, onDone }: Props) {
    const held = useHeldChange(site.key, experiment, onDone);
    const known = useKnown(site.key, experiment.key, held.draft, held.errors, experiment.revision);
    const preview = useChangePreview(
        site.key,
        experiment.key,
        useDebounced(
            held.isTouched && Object.keys(held.errors).length === 0 && Object.keys(mistakes(held.draft)).length === 0
                ? requestOf(held.draft)
                : null,
            400,
        ),
    );
    const blocker = useBlocker(() => held.isTouched && !held.isPending);
    const wrong = Object.values(held.errors);

    return (
        <>
            <Leaves chosen={chosen} site={site} experiment={experiment} observed={observed} editor={held} {...known} hasStarted />
            <div className="sticky bottom-0 border-t border-line bg-ground">
                {held.isTouched && preview.data && preview.data.words.length > 0 && (
                    <div className="mx-auto max-w-7xl px-5 pt-3" data-figure="preview" role="status">
                        {preview.data.words.map((words) => (
                            <p key={words}>{words}</p>
                        ))}
                    </div>
                )}
                <div className="mx-auto flex max-w-7xl flex-wrap items-center gap-3 px-5 py-3">
                    <Button look="main" onClick={held.apply} disabled={!held.isTouched || held.isPending}>
                        {experiment.state === 'running' ? 'Put it live' : 'Keep the change'}
                    </Button>
                    <Button onClick={onDone}>Cancel</Button>
                    <span className="text-sm text-soft">{CONSEQUENCES[chosen ?? 'what']}</span>
                    {(wrong.length > 0 || held.problem) && (
                        <span role="alert" className="text-broken">
                            {wrong[0] ?? held.problem}
                        </span>
                    )}
                </div>
            </div>
            <Question
                open={blocker.state === 'blocked'}
                title="Leave without this change?"
                yes="Leave and lose it"
                danger
                onYes={() => blocker.proceed?.()}
                onNo={() => blocker.reset?.()}
            >
                <p>What you changed here is not live yet.</p>
            </Question>
        </>
    );
}

const CONSEQUENCES: Record<LinkName | 'what', string> = {
    what: 'Visitors notice nothing of it.',
    page: 'A new epoch begins: from their next page view on, visitors of these pages are eligible.',
    snippet: '',
    entry: 'A new epoch begins: from their next page view on, others may enter. Whoever is in stays in.',
    split: 'A new epoch begins: new visitors are divided by these weights. Whoever has a variant keeps it.',
    exposure: 'A new epoch begins: visitors meet the changed variants from their next page view on.',
    goals: 'Goals are counted anew, from the first exposure on.',
    data: 'Visitors notice nothing of notes; a shorter lifetime counts from their next page view on.',
};

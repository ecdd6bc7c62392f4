import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Experiment, Schemas } from '../api/client';
import { useDeleteExperiment, useMoveExperiment } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { percent } from '../parts/figures';
import { Question } from '../parts/Question';
import { CHANGE_KINDS } from '../parts/vocabulary';
import { inWords } from '../parts/ruleRows';

type Asked = Schemas['Action'] | 'delete';

const LABELS: Record<Asked, string> = {
    start: 'Start',
    pause: 'Pause',
    resume: 'Resume',
    end: 'End',
    archive: 'Archive',
    delete: 'Delete',
};

/** What can be done with an experiment now. Everything that visitors notice is asked about first. */
export function Actions({ experiment, isReady }: { experiment: Experiment; isReady: boolean }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const move = useMoveExperiment(site, experiment.key);
    const remove = useDeleteExperiment(site, experiment.key);
    const [asked, setAsked] = useState<Asked | null>(null);
    const close = (): void => {
        setAsked(null);
        move.reset();
    };
    const carryOut = (): void => {
        if (asked === 'delete') {
            remove.mutate(undefined, { onSuccess: () => navigate(address.bench(site)) });
        } else if (asked) {
            move.mutate(asked, { onSuccess: close });
        }
    };

    return (
        <div className="flex flex-wrap items-center gap-2">
            <a href={address.experimentFile(site, experiment.key)} className="px-2 text-accent underline underline-offset-4" download>
                Experiment file
            </a>
            {experiment.state === 'draft' && (
                <>
                    <Button look="danger" onClick={() => setAsked('delete')}>
                        Delete
                    </Button>
                </>
            )}
            {experiment.actions.map((action) => (
                <Button
                    key={action}
                    look={action === 'start' || action === 'resume' ? 'main' : 'plain'}
                    disabled={!isReady}
                    title={isReady ? undefined : 'What is missing is marked on the chain.'}
                    onClick={() => setAsked(action)}
                >
                    {LABELS[action]}
                </Button>
            ))}
            <Question
                open={asked !== null}
                title={asked ? `${LABELS[asked]} “${experiment.name}”?` : ''}
                yes={asked ? LABELS[asked] : ''}
                danger={asked === 'delete' || asked === 'end'}
                busy={move.isPending || remove.isPending}
                error={(move.error ?? remove.error)?.message}
                onYes={carryOut}
                onNo={close}
            >
                {asked && <Consequence asked={asked} experiment={experiment} />}
            </Question>
        </div>
    );
}

function Consequence({ asked, experiment }: { asked: Asked; experiment: Experiment }) {
    const sum = experiment.variants.reduce((total, variant) => total + variant.weight, 0);

    switch (asked) {
        case 'start':
            return (
                <>
                    <p>
                        From their next page view on, {percent(experiment.share, 0)} of the visitors whose {inWords(experiment.pages)} enter
                        and meet:{' '}
                        {experiment.variants
                            .map(
                                (variant) =>
                                    `${variant.name} (${percent(variant.weight / sum)}${variant.target ? `, sent to ${variant.target}` : ''})`,
                            )
                            .join(', ')}
                        .
                    </p>
                    {experiment.variants.some(({ changes }) => changes.some(({ kind, off }) => !off && CHANGE_KINDS[kind].code)) && (
                        <p>Its HTML and scripts run in every such visitor’s browser, and can do there whatever the page can.</p>
                    )}
                    <p>What is changed after that begins a new epoch; the variants stay those that there are.</p>
                </>
            );
        case 'pause':
            return (
                <p>Visitors see the page as it is, and nothing is counted, until you resume. Whoever had a variant gets it back then.</p>
            );
        case 'resume':
            return <p>Visitors meet their variants again from their next page view on.</p>;
        case 'end':
            return (
                <p>Visitors see the page as it is from their next page view on. An experiment that has ended cannot be started again.</p>
            );
        case 'archive':
            return <p>It stays readable, at the end of the Bench.</p>;
        case 'delete':
            return <p>The draft is gone for good. It was never started, so nothing was observed.</p>;
    }
}

import { useState } from 'react';
import type { Experiment } from '../../api/client';
import { useMoveExperiment } from '../../api/life';
import { useSiteKey } from '../../app/address';
import { Choice } from '../../parts/Choice';
import { Question } from '../../parts/Question';

const NONE = '';

/** Before an experiment ends: what visitors are to meet from then on. */
export function EndQuestion({ experiment, open, onClose }: { experiment: Experiment; open: boolean; onClose: () => void }) {
    const move = useMoveExperiment(useSiteKey(), experiment.key);
    const [keep, setKeep] = useState(NONE);
    const close = (): void => {
        move.reset();
        onClose();
    };

    return (
        <Question
            open={open}
            title={`End “${experiment.name}”?`}
            yes="End"
            danger
            busy={move.isPending}
            error={move.error?.message}
            onYes={() => move.mutate({ action: 'end', keep: keep || null }, { onSuccess: close })}
            onNo={close}
        >
            <p>Nobody enters any more, and nothing more is counted. An experiment that has ended cannot be started again.</p>
            <p>From their next page view on, visitors see:</p>
            <Choice
                label="What visitors see then"
                value={keep}
                options={[
                    { value: NONE, label: 'the page as it is in the site' },
                    ...experiment.variants
                        .filter(({ changes, target }) => changes.length > 0 || target)
                        .map(({ key, name }) => ({ value: key, label: `“${name}”, everybody` })),
                ]}
                onChange={setKeep}
            />
            {keep !== NONE && (
                <p className="text-sm text-soft">
                    That is for the time until the site itself does it: it counts nothing, and after two weeks Pellix warns. A brief for the
                    developers says what to change.
                </p>
            )}
        </Question>
    );
}

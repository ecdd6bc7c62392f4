import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { changeExperiment } from '../../api/experiments';
import type { Experiment } from '../../api/client';
import { fieldErrors, stillWrong } from '../../parts/fieldErrors';
import { draftOf, mistakes, requestOf, type Draft } from '../draft';
import type { Editor } from '../leaves/Editor';

export interface HeldChange extends Editor {
    isTouched: boolean;
    isPending: boolean;
    problem: string;
    /** Puts the change live. */
    apply: () => void;
}

/** A change of an experiment that has started: nobody meets it before it is put live. */
export function useHeldChange(site: string, experiment: Experiment, onDone: () => void): HeldChange {
    const client = useQueryClient();
    const [begin] = useState(() => draftOf(experiment));
    const [draft, setDraft] = useState<Draft>(begin);
    const [sent, setSent] = useState<Draft | null>(null);
    const change = useMutation({
        mutationFn: () => changeExperiment(site, experiment.key, experiment.revision, requestOf(draft)),
        onSuccess: () => {
            onDone();

            return client.invalidateQueries();
        },
    });
    const found = sent === null ? {} : mistakes(draft);
    const answered = sent === null ? {} : stillWrong(fieldErrors(change.error), requestOf(sent), requestOf(draft));

    return {
        draft,
        set: (next) => setDraft({ ...draft, ...next }),
        errors: { ...answered, ...found },
        isTouched: JSON.stringify(requestOf(draft)) !== JSON.stringify(requestOf(begin)),
        isPending: change.isPending,
        problem: change.error?.message ?? '',
        apply: () => {
            setSent(draft);
            if (Object.keys(mistakes(draft)).length === 0) {
                change.mutate();
            }
        },
    };
}

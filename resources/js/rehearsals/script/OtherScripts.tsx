import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Experiment } from '../../api/client';
import { useExperiments } from '../../api/queries';
import { fetchScript, type RehearsalScript } from '../../api/rehearsals';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { scriptOf, stepsOf, type ScriptStep } from './steps';

const LARGEST = 500_000;

interface Props {
    site: string;
    experiment: Experiment;
    steps: ScriptStep[];
    onTake: (steps: ScriptStep[]) => void;
}

/** Uses a script again: that of another experiment, or one that was kept as a file. What is taken is not kept before somebody says so. */
export function OtherScripts({ site, experiment, steps, onTake }: Props) {
    const experiments = useExperiments(site);
    const [wrong, setWrong] = useState('');
    const file = useRef<HTMLInputElement>(null);
    const take = useMutation({
        mutationFn: (key: string) => fetchScript(site, key),
        onSuccess: ({ script }) => onTake(stepsOf(script)),
    });
    const others = (experiments.data ?? []).filter(({ key }) => key !== experiment.key);
    const save = (): void => {
        const link = document.createElement('a');
        link.href = URL.createObjectURL(new Blob([JSON.stringify(scriptOf(steps), null, 2) + '\n'], { type: 'application/json' }));
        link.download = `${experiment.key}.rehearsal.json`;
        link.click();
        URL.revokeObjectURL(link.href);
    };
    const open = async (chosen: File | undefined): Promise<void> => {
        if (!chosen) {
            return;
        }
        try {
            if (chosen.size > LARGEST) {
                throw new Error('it is too large for a script');
            }
            const script = JSON.parse(await chosen.text()) as RehearsalScript;
            if (!Array.isArray(script.steps)) {
                throw new Error('it has no list of steps');
            }
            onTake(stepsOf(script));
            setWrong('');
        } catch (error) {
            setWrong(`${chosen.name} cannot be read as a script: ${(error as Error).message}.`);
        }
    };

    return (
        <details>
            <summary className="text-sm">Use a script again</summary>
            <div className="mt-2 space-y-2 text-sm">
                {others.length > 0 && (
                    <Choice
                        label="Take the steps of"
                        value=""
                        options={[
                            { value: '', label: take.isPending ? 'Reading…' : 'Steps of another experiment' },
                            ...others.map(({ key, name }) => ({ value: key, label: name })),
                        ]}
                        onChange={(key) => key !== '' && take.mutate(key)}
                    />
                )}
                <div className="flex flex-wrap gap-2">
                    <Button onClick={() => file.current?.click()}>Read a file…</Button>
                    <Button onClick={save}>Save as a file</Button>
                    <input
                        ref={file}
                        type="file"
                        accept="application/json,.json"
                        aria-label="File with a script"
                        className="sr-only"
                        tabIndex={-1}
                        onChange={(event) => {
                            void open(event.target.files?.[0]);
                            event.target.value = '';
                        }}
                    />
                </div>
                {(wrong || take.error) && (
                    <p role="alert" className="text-broken">
                        {wrong || take.error?.message}
                    </p>
                )}
            </div>
        </details>
    );
}

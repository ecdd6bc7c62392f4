import { useState } from 'react';
import { Problem, type Experiment } from '../../api/client';
import { useKeepScript, type RehearsalReport, type RehearsalScript } from '../../api/rehearsals';
import { Button } from '../../parts/Button';
import { OtherScripts } from './OtherScripts';
import { StepForm } from './StepForm';
import { errorsAt, scriptOf, stepsOf, type ScriptStep } from './steps';

interface Props {
    site: string;
    experiment: Experiment;
    report: RehearsalReport | undefined;
    script: RehearsalScript;
    /** Whether somebody has written it. */
    written: boolean;
    onDone: () => void;
}

/** Writes a script step by step, or as text. */
export function ScriptForm({ site, experiment, report, script, written, onDone }: Props) {
    const keep = useKeepScript(site, experiment.key);
    const [steps, setSteps] = useState<ScriptStep[]>(stepsOf(script));
    const [text, setText] = useState<string | null>(null);
    const [wrong, setWrong] = useState('');
    const errors = keep.error instanceof Problem ? keep.error.errors : {};
    const put = (at: number, step: ScriptStep): void => setSteps(steps.map((one, i) => (i === at ? step : one)));
    const move = (from: number, to: number): void => {
        const next = [...steps];
        next.splice(to, 0, ...next.splice(from, 1));
        setSteps(next);
    };
    /** The text as steps; null where it cannot be read. */
    const read = (): ScriptStep[] | null => {
        try {
            const json = JSON.parse(text ?? '') as RehearsalScript;
            setWrong('');

            return Array.isArray(json.steps) ? stepsOf(json) : [];
        } catch (error) {
            setWrong(`This is no JSON: ${(error as Error).message}`);

            return null;
        }
    };
    const send = (): void => {
        const all = text === null ? steps : read();
        if (all !== null) {
            keep.mutate(scriptOf(all), { onSuccess: onDone });
        }
    };
    const turn = (): void => {
        if (text === null) {
            setText(JSON.stringify(scriptOf(steps), null, 2));
        } else {
            const all = read();
            if (all !== null) {
                setSteps(all);
                setText(null);
            }
        }
    };
    const untold = Object.entries(errors).filter(([field]) => text !== null || !/^steps\.\d+\./.test(field));

    return (
        <div className="mt-2 space-y-3">
            {text === null ? (
                <ol className="space-y-3">
                    {steps.map((step, i) => (
                        <li key={i} className="border border-line p-2">
                            <StepForm
                                {...{ site, experiment, report, step }}
                                number={i + 1}
                                errors={errorsAt(errors, i)}
                                onChange={(next) => put(i, next)}
                            />
                            <div className="mt-2 flex flex-wrap gap-2 text-sm">
                                <Button
                                    aria-label={`Add below step ${i + 1}`}
                                    onClick={() =>
                                        setSteps([...steps.slice(0, i + 1), { do: 'click', element: '' }, ...steps.slice(i + 1)])
                                    }
                                >
                                    Add below
                                </Button>
                                <Button aria-label={`Move step ${i + 1} up`} disabled={i === 0} onClick={() => move(i, i - 1)}>
                                    Up
                                </Button>
                                <Button
                                    aria-label={`Move step ${i + 1} down`}
                                    disabled={i === steps.length - 1}
                                    onClick={() => move(i, i + 1)}
                                >
                                    Down
                                </Button>
                                <Button
                                    aria-label={`Take out step ${i + 1}`}
                                    disabled={steps.length === 1}
                                    onClick={() => setSteps(steps.filter((_, at) => at !== i))}
                                >
                                    Take out
                                </Button>
                            </div>
                        </li>
                    ))}
                </ol>
            ) : (
                <>
                    <label className="block text-sm" htmlFor="script-text">
                        Steps, as docs/formats.md describes them
                    </label>
                    <textarea
                        id="script-text"
                        className="h-80 w-full border border-[#8b8f96] p-2 font-mono text-xs"
                        spellCheck={false}
                        value={text}
                        onChange={(event) => setText(event.target.value)}
                    />
                </>
            )}
            {(wrong || keep.error) && (
                <div role="alert" className="text-broken">
                    {wrong}
                    {untold.map(([field, messages]) => (
                        <p key={field}>
                            {field.replace(/steps\.(\d+)/, (_, n: string) => `step ${Number(n) + 1}`)}: {messages[0]}
                        </p>
                    ))}
                    {keep.error && Object.keys(errors).length === 0 && <p>{keep.error.message}</p>}
                    {keep.error && Object.keys(errors).length > untold.length && <p>It was not kept: see the steps that are marked.</p>}
                </div>
            )}
            <OtherScripts
                {...{ site, experiment }}
                steps={steps}
                onTake={(taken) => {
                    setSteps(taken);
                    setText(null);
                }}
            />
            <div className="flex flex-wrap gap-2">
                <Button look="main" disabled={keep.isPending} onClick={send}>
                    Keep the script
                </Button>
                <Button onClick={onDone}>Leave it</Button>
                <Button onClick={turn}>{text === null ? 'As text' : 'As steps'}</Button>
                {written && (
                    <Button disabled={keep.isPending} onClick={() => keep.mutate(null, { onSuccess: onDone })}>
                        Have it follow from the experiment
                    </Button>
                )}
            </div>
        </div>
    );
}

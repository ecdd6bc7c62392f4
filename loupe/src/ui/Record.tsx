import { useEffect, useReducer, useState } from 'react';
import { ask, Conflict, type Opening } from '../answers';
import type { Recorder } from '../record/Recorder';
import { selectorOf } from '../record/recording';
import { dropped, stepWords, type ScriptStep, type Walk } from '../record/steps';
import { found } from '../look/changes';
import type { Running } from '../preview/run';
import { Pointer } from './change/Pointer';

interface Props {
    opening: Opening;
    token: string;
    running: Running | null;
    recorder: Recorder;
    isFramed: boolean;
}

const LONGEST_TEXT = 100;

/** A walk through the site becomes the script of the experiment's rehearsals. */
export function Record({ opening, token, running, recorder, isFramed }: Props) {
    const [, again] = useReducer((n: number) => n + 1, 0);
    useEffect(() => recorder.onChange(again), [recorder]);
    const { walk } = recorder;
    const onWalk = (next: Walk | null): void => recorder.set(next);
    const [isMarking, setIsMarking] = useState(false);
    const [said, setSaid] = useState('');
    const [question, setQuestion] = useState('');
    const name = opening.experiments.find(({ key }) => key === opening.experiment)?.name ?? opening.experiment;
    if (isFramed) {
        return <p>A walk is recorded in the window itself: choose “This window” under Try.</p>;
    }
    const begin = (): void => {
        setSaid('');
        setQuestion('');
        recorder.begin();
    };
    const mark = (element: Element): void => {
        setIsMarking(false);
        const selector = selectorOf(element);
        if (walk && selector !== null) {
            onWalk({ ...walk, steps: [...walk.steps, expectation(element, selector, running)] });
        }
    };
    const keep = (isSure: boolean): void => {
        ask<{ steps: number }>('script', {
            token,
            script: JSON.stringify({ pellix: 1, steps: walk?.steps ?? [] }),
            ...(isSure ? { replace: 'yes' } : {}),
        }).then(
            ({ steps }) => {
                setSaid(`Kept as the script of the rehearsals of ${name}: ${steps} steps.`);
                setQuestion('');
                onWalk(null);
            },
            (error: Error) => (error instanceof Conflict ? setQuestion(error.message) : setSaid(error.message)),
        );
    };

    return (
        <>
            <p>
                Walk through the site as a visitor would: what you do becomes the script of the rehearsals of <b>{name}</b>. What you type
                is replaced by made-up data at once. Stay on one host.
            </p>
            <p className="tools">
                {walk === null ? (
                    <button type="button" className="main" onClick={begin}>
                        Record from this page on
                    </button>
                ) : (
                    <>
                        <span className="broken">● Recording</span>
                        <button type="button" className="plain" aria-pressed={isMarking} onClick={() => setIsMarking(!isMarking)}>
                            {isMarking ? 'Choose it on the page now…' : 'This must be seen…'}
                        </button>
                        <button type="button" className="main" disabled={walk.steps.length === 0} onClick={() => keep(false)}>
                            Keep it as the script
                        </button>
                        <button type="button" className="plain" onClick={() => onWalk(null)}>
                            Throw it away
                        </button>
                    </>
                )}
            </p>
            {isMarking && <Pointer page={document} isPointing onPointing={setIsMarking} chosen={null} onChosen={mark} />}
            {question && (
                <p role="alert" className="note">
                    {question}{' '}
                    <button type="button" className="plain" onClick={() => keep(true)}>
                        Replace it
                    </button>
                </p>
            )}
            {said && (
                <p role="status" className="note">
                    {said}
                </p>
            )}
            {walk && (
                <ol className="steps">
                    {walk.steps.map((step, i) => (
                        <li key={i}>
                            <span className="what">{stepWords(step)}</span>{' '}
                            {i > 0 && (
                                <button
                                    type="button"
                                    className="link"
                                    aria-label={`Take out: step ${i + 1}`}
                                    onClick={() => onWalk(dropped(walk, i))}
                                >
                                    Take out
                                </button>
                            )}
                        </li>
                    ))}
                </ol>
            )}
        </>
    );
}

/** With its words where they are its own; for the variant that is shown alone, where that changes the element. */
function expectation(element: Element, selector: string, running: Running | null): ScriptStep {
    const text = element.childElementCount === 0 ? element.textContent.replace(/\s+/g, ' ').trim() : '';
    const variants = (running?.page?.experiments.shown ?? [])
        .filter(({ experiment, variant }) =>
            (experiment.variants.find(({ key }) => key === variant)?.changes ?? []).some(
                (change) => change.selector && found(change.selector).some((one) => one === element || one.contains(element)),
            ),
        )
        .map(({ variant }) => variant);

    return {
        do: 'expect',
        element: selector,
        ...(text !== '' && text.length <= LONGEST_TEXT ? { text } : {}),
        ...(variants.length > 0 ? { variants } : {}),
    };
}

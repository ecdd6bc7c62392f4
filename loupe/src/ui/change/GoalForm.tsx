import { useState, type FormEvent } from 'react';
import { ask } from '../../answers';
import { Field } from '../Field';
import { called } from '../../point/words';
import { recordedSelector } from '../../point/recorded';

interface Props {
    element: Element;
    /** By which changes find it. */
    selector: string;
    token: string;
    onDone: (said: string) => void;
    onCancel: () => void;
}

type Kind = 'click' | 'form' | 'seen';

/** Makes a goal of the chosen element, and gives it to the experiment. */
export function GoalForm({ element, selector, token, onDone, onCancel }: Props) {
    const form = element.closest('form');
    const link = element.closest<HTMLAnchorElement>('a[href]');
    const clicked = recordedSelector(element);
    // Of several links that are alike, the address that they lead to is recorded.
    const href = clicked === null ? (link?.href ?? '') : '';
    const sent = form && recordedSelector(form);
    const kinds: [Kind, string, string | null][] = [
        ['click', 'It is clicked', clicked ?? (href || null)],
        ...(form ? ([['form', 'The form is sent', sent]] as [Kind, string, string | null][]) : []),
        ['seen', 'It is seen: half of it in the window, for a second', selector],
    ];
    const [kind, setKind] = useState<Kind>(clicked || href ? 'click' : 'seen');
    const [name, setName] = useState(() =>
        called(element)
            .replace(/^\w+ “(.*)”$/, '$1')
            .slice(0, 60),
    );
    const [isHere, setIsHere] = useState(true);
    const [wrong, setWrong] = useState('');
    const { pathname } = new URL(window.pellixCopy?.url ?? element.ownerDocument.location.href);
    const [isSending, setIsSending] = useState(false);
    const by = kinds.find(([one]) => one === kind)?.[2] ?? null;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (by === null) {
            setWrong(
                'Nothing that is recorded with a click tells it from others: choose an element around it that has an id, or a class with a name.',
            );

            return;
        }
        setIsSending(true);
        ask<{ name: string; watched: boolean }>('goal', {
            token,
            kind,
            selector: by,
            href: kind === 'click' ? href : '',
            name,
            path: isHere ? pathname : '',
        }).then(
            (made) =>
                onDone(
                    `“${made.name}” is a goal of the experiment.${made.watched ? '' : ' Browsers tell of it from the next publication on, which takes the right to publish.'}`,
                ),
            (error: Error) => {
                setWrong(error.message);
                setIsSending(false);
            },
        );
    };

    return (
        <form onSubmit={submit} noValidate aria-label="Goal" className="form">
            <h2>Goal</h2>
            <fieldset>
                <legend>Counts, once a visitor, when</legend>
                {kinds.map(([one, label, found]) => (
                    <label key={one} className="choice">
                        <input type="radio" name="goal-kind" checked={kind === one} onChange={() => setKind(one)} />
                        <span>
                            {label} <span className="mono soft">{found ?? ''}</span>
                        </span>
                    </label>
                ))}
            </fieldset>
            <label className="choice">
                <input type="checkbox" checked={isHere} onChange={(event) => setIsHere(event.target.checked)} />
                <span>
                    on this page alone <span className="mono soft">{pathname}</span>
                </span>
            </label>
            <Field label="Name" value={name} onValue={setName} />
            {wrong && (
                <p role="alert" className="broken">
                    {wrong}
                </p>
            )}
            <p className="tools">
                <button type="submit" className="main" disabled={isSending}>
                    Make it a goal
                </button>
                <button type="button" className="plain" onClick={onCancel}>
                    Cancel
                </button>
            </p>
        </form>
    );
}

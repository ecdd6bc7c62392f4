import { useState } from 'react';
import type { Draft } from '../../change/Draft';
import { moved, same, shown, switched, without, type Change } from '../../change/list';
import { changeWords } from '../../look/changes';
import type { StepSaying } from './useSayings';

interface Props {
    draft: Draft;
    sayings: StepSaying[];
    onEdit: (at: number) => void;
    onPoint: (elements: Element[]) => void;
    onWithout: (is: boolean) => void;
}

/** The changes of the variant, in the order in which they are made. */
export function Steps({ draft, sayings, onEdit, onPoint, onWithout }: Props) {
    const { list, history } = draft;
    const step = (next: Change[], words: string): void => draft.set(next, words);

    return (
        <section aria-label="Changes">
            <p className="tools">
                <button
                    type="button"
                    className="plain"
                    disabled={history.past.length === 0}
                    onClick={() => void draft.undo()}
                    title={history.past.at(-1)?.words}
                >
                    Undo
                </button>
                <button
                    type="button"
                    className="plain"
                    disabled={history.future.length === 0}
                    onClick={() => void draft.redo()}
                    title={history.future.at(-1)?.words}
                >
                    Redo
                </button>
                <Without onWithout={onWithout} />
                <KeptWords draft={draft} />
            </p>
            {draft.told && (
                <p role="status" className="note">
                    {draft.told} has changed this variant just now; what both of you have done is in the list.
                    {draft.met.length > 0 && ' Where you both wrote the same change anew, both are there: take one out.'}
                </p>
            )}
            {list.length === 0 && <p className="soft">Nothing is changed yet: choose an element.</p>}
            <ol className="steps">
                {list.map((change, i) => (
                    <li
                        key={i}
                        onMouseEnter={() => onPoint(sayings[i]?.elements ?? [])}
                        onMouseLeave={() => onPoint([])}
                        onFocus={() => onPoint(sayings[i]?.elements ?? [])}
                        onBlur={() => onPoint([])}
                        className={change.off ? 'off' : ''}
                    >
                        <span className="what">
                            {changeWords(change)}
                            {change.off && ' (switched off)'}
                            {draft.met.some((one) => same(one, change)) && <span className="doubt"> ▲ both of you wrote this anew.</span>}
                        </span>
                        {sayings[i]?.words.map(({ text, look }) => (
                            <p key={text} className={look}>
                                {text}
                            </p>
                        ))}
                        <span className="tools">
                            <button type="button" className="link" onClick={() => onEdit(i)} aria-label={`Edit: change ${i + 1}`}>
                                Edit
                            </button>
                            <button
                                type="button"
                                className="link"
                                onClick={() => step(switched(list, i), change.off ? 'Switched on' : 'Switched off')}
                                aria-label={`Switch ${change.off ? 'on' : 'off'}: change ${i + 1}`}
                            >
                                {change.off ? 'Switch on' : 'Switch off'}
                            </button>
                            <button
                                type="button"
                                className="link"
                                disabled={i === 0}
                                onClick={() => step(moved(list, i, i - 1), 'Made earlier')}
                                aria-label={`Earlier: change ${i + 1}`}
                            >
                                Earlier
                            </button>
                            <button
                                type="button"
                                className="link"
                                disabled={i === list.length - 1}
                                onClick={() => step(moved(list, i, i + 1), 'Made later')}
                                aria-label={`Later: change ${i + 1}`}
                            >
                                Later
                            </button>
                            <button
                                type="button"
                                className="link"
                                onClick={() => step(without(list, i), 'Taken out')}
                                aria-label={`Take out: change ${i + 1}`}
                            >
                                Take out
                            </button>
                        </span>
                    </li>
                ))}
            </ol>
        </section>
    );
}

/** As long as it is held, by mouse or by the space bar, the page is shown as it is for everybody else. */
function Without({ onWithout }: { onWithout: (is: boolean) => void }) {
    const [isHeld, setIsHeld] = useState(false);
    const hold = (is: boolean): void => {
        if (is !== isHeld) {
            setIsHeld(is);
            onWithout(is);
        }
    };

    return (
        <button
            type="button"
            className="plain"
            aria-pressed={isHeld}
            title="Or hold Alt+Shift+O"
            onPointerDown={() => hold(true)}
            onPointerUp={() => hold(false)}
            onPointerLeave={() => hold(false)}
            onKeyDown={(event) => (event.key === ' ' || event.key === 'Enter') && hold(true)}
            onKeyUp={() => hold(false)}
            onBlur={() => hold(false)}
        >
            Hold: without
        </button>
    );
}

function KeptWords({ draft }: { draft: Draft }) {
    const words = {
        kept: 'Kept in the draft.',
        keeping: 'Keeping…',
        failed: `Not kept yet: ${draft.problem} It is tried again.`,
        ended: `Not kept: ${draft.problem} Open it again from Pellix.`,
    }[draft.keeping];

    return (
        <span role="status" className={draft.keeping === 'kept' || draft.keeping === 'keeping' ? 'soft' : 'broken'}>
            {words}
        </span>
    );
}

/** Of each step of the list, the place among those that are shown; null where it is not. */
export function places(draft: Draft): (number | null)[] {
    const all = shown(draft.list, draft.kept.problems, draft.kept.changes);
    let next = 0;

    return draft.list.map((one) => {
        const rest = { ...one };
        delete rest.off;

        return !one.off && next < all.length && same(rest, all[next]) ? next++ : null;
    });
}

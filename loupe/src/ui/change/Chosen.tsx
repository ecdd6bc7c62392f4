import type { Change } from '../../change/list';
import { called, whereabouts } from '../../point/words';
import { Selectors } from './Selectors';

export type Act = Change['kind'] | 'in-place' | 'duplicate' | 'earlier' | 'later' | 'goal';

interface Props {
    element: Element;
    selector: string;
    changes: Change[];
    onSelector: (selector: string) => void;
    onAct: (act: Act) => void;
    mayCode: boolean;
}

const ACTS: { act: Act; label: string; isCode?: true }[] = [
    { act: 'in-place', label: 'Type its text in place' },
    { act: 'text', label: 'Text…' },
    { act: 'style', label: 'Style…' },
    { act: 'attribute', label: 'Attribute or picture…' },
    { act: 'class', label: 'Classes…' },
    { act: 'hide', label: 'Hide' },
    { act: 'remove', label: 'Remove' },
    { act: 'move', label: 'Move…' },
    { act: 'earlier', label: 'Before its neighbour' },
    { act: 'later', label: 'After its neighbour' },
    { act: 'html', label: 'HTML inside…', isCode: true },
    { act: 'insert', label: 'Insert…', isCode: true },
    { act: 'duplicate', label: 'Duplicate', isCode: true },
    { act: 'goal', label: 'Make it a goal…' },
];

/** The element that was chosen, by which selector it is found, and what can be done with it. */
export function Chosen({ element, selector, changes, onSelector, onAct, mayCode }: Props) {
    return (
        <section aria-label="The chosen element">
            <h2>
                {called(element)}
                <span className="soft">{whereabouts(element).slice(called(element).length)}</span>
            </h2>
            <p className="tools">
                {ACTS.map(({ act, label, isCode }) => (
                    <button
                        key={act}
                        type="button"
                        className="plain"
                        disabled={isCode && !mayCode}
                        title={isCode && !mayCode ? 'HTML takes the right to publish on the site' : undefined}
                        onClick={() => onAct(act)}
                    >
                        {label}
                    </button>
                ))}
            </p>
            <p className="soft">Or drag it on the page to where it is to stand.</p>
            <Selectors element={element} changes={changes} selector={selector} onSelector={onSelector} />
        </section>
    );
}

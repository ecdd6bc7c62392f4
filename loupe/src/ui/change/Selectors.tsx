import type { Change } from '../../change/list';
import { found } from '../../look/changes';
import { passedOver, proposals, type Sturdiness } from '../../point/selectors';

export const STURDY: Record<Sturdiness, string> = {
    id: 'sturdy: an id',
    data: 'sturdy: for scripts',
    attribute: 'sturdy: says what it is for',
    class: 'good: a class with a name',
    place: 'fair: by what is around it',
    position: 'weak: by its position',
};

interface Props {
    element: Element;
    /** Those that are made to the page already. */
    changes: Change[];
    selector: string;
    onSelector: (selector: string) => void;
}

/** By which selector the chosen element is found in visitors' browsers. */
export function Selectors({ element, changes, selector, onSelector }: Props) {
    const all = proposals(element, changes);
    const isOwn = !all.some((one) => one.selector === selector);
    const count = found(selector, element.ownerDocument).length;
    const why = all.find((one) => one.selector === selector)?.why;

    return (
        <div>
            <label className="label" htmlFor="selector">
                Found by the selector
            </label>
            <input
                id="selector"
                className="mono wide"
                value={selector}
                spellCheck={false}
                onChange={(event) => onSelector(event.target.value)}
                aria-describedby="selector-says"
            />
            <p id="selector-says" className={count === 1 ? 'soft' : count === 0 ? 'broken' : 'doubt'}>
                {count === 0
                    ? 'No element of this page matches it.'
                    : count === 1
                      ? 'It finds this element alone.'
                      : `It finds ${count} elements: all of them are changed.`}{' '}
                {why}
                {isOwn && count > 0 && !found(selector, element.ownerDocument).includes(element) && ' The chosen one is not among them.'}
            </p>
            {element.shadowRoot && (
                <p className="doubt">
                    What you see of it lies in a tree of its own, which no selector reaches into: it can be changed as a whole alone.
                </p>
            )}
            <details>
                <summary className="soft">Other selectors</summary>
                <ul className="rows">
                    {all.map((one) => (
                        <li key={one.selector}>
                            <label className="choice">
                                <input
                                    type="radio"
                                    name="proposal"
                                    checked={one.selector === selector}
                                    onChange={() => onSelector(one.selector)}
                                />
                                <span>
                                    <span className="mono">{one.selector}</span>{' '}
                                    <span className="soft">
                                        {one.count === 1 ? 'it alone' : `${one.count} elements`}; {STURDY[one.sturdiness]}. {one.why}
                                    </span>
                                </span>
                            </label>
                        </li>
                    ))}
                    {passedOver(element).map(({ name, why: reason }) => (
                        <li key={name} className="soft">
                            passed over <span className="mono">{name}</span>: {reason}
                        </li>
                    ))}
                </ul>
            </details>
        </div>
    );
}

import { useLayoutEffect, useRef, useState } from 'react';
import { pick } from '../point/pick';
import { passedOver, proposals, type Sturdiness } from '../point/selectors';
import { called, whereabouts } from '../point/words';
import { Outline } from './Outline';

const STURDY: Record<Sturdiness, string> = {
    id: 'sturdy: an id',
    data: 'sturdy: for scripts',
    attribute: 'sturdy: says what it is for',
    class: 'good: a class with a name',
    place: 'fair: by what is around it',
    position: 'weak: by its position',
};

/** Points at an element of the page, and says by which selectors it is found again. */
export function Point() {
    const [isPointing, setIsPointing] = useState(false);
    const [at, setAt] = useState<Element | null>(null);
    const [chosen, setChosen] = useState<Element | null>(null);
    const [copied, setCopied] = useState('');
    const last = useRef<Element | null>(null);
    // At once: whoever points moves on.
    useLayoutEffect(() => {
        if (!isPointing) {
            return;
        }

        return pick(window.pellixFramed?.page ?? document, last.current, {
            at: setAt,
            chosen: (element) => {
                last.current = element;
                setChosen(element);
                setAt(element);
                setIsPointing(false);
            },
            ended: () => setIsPointing(false),
        });
    }, [isPointing]);
    const copy = (text: string): void =>
        void navigator.clipboard?.writeText(text).then(
            () => setCopied(text),
            () => setCopied(''),
        );
    const names = chosen ? passedOver(chosen) : [];

    return (
        <>
            <p>
                <button type="button" className="plain" aria-pressed={isPointing} onClick={() => setIsPointing(!isPointing)}>
                    {isPointing ? 'Stop pointing' : 'Point at an element'}
                </button>{' '}
                <span className="soft" role="status">
                    {isPointing
                        ? `${at ? `${called(at)}. ` : ''}Click it, or press Enter. Arrow keys: up to what is around it, down into it, left and right to its neighbours. Esc ends.`
                        : 'Nothing of the page is set off while you point.'}
                </span>
            </p>
            {chosen && (
                <>
                    <h2>{whereabouts(chosen)}</h2>
                    <table>
                        <thead>
                            <tr>
                                <th>Selector</th>
                                <th>Finds</th>
                                <th>How sturdy</th>
                                <th>Why</th>
                                <th />
                            </tr>
                        </thead>
                        <tbody>
                            {proposals(chosen).map(({ selector, count, sturdiness, why }) => (
                                <tr key={selector}>
                                    <td className="mono">{selector}</td>
                                    <td>{count === 1 ? 'it alone' : `${count} elements`}</td>
                                    <td>{STURDY[sturdiness]}</td>
                                    <td>{why}</td>
                                    <td>
                                        <button
                                            type="button"
                                            className="plain"
                                            aria-label={`Copy ${selector}`}
                                            onClick={() => copy(selector)}
                                        >
                                            {copied === selector ? 'Copied' : 'Copy'}
                                        </button>
                                    </td>
                                </tr>
                            ))}
                        </tbody>
                    </table>
                    {names.length > 0 && (
                        <>
                            <h2>Names that are passed over</h2>
                            <ul>
                                {names.map(({ name, why }) => (
                                    <li key={name}>
                                        <span className="mono">{name}</span>: {why}
                                    </li>
                                ))}
                            </ul>
                        </>
                    )}
                </>
            )}
            {at && <Outline of={at} />}
        </>
    );
}

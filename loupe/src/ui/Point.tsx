import { useState } from 'react';
import { passedOver, proposals } from '../point/selectors';
import { whereabouts } from '../point/words';
import { Pointer } from './change/Pointer';
import { STURDY } from './change/Selectors';

interface Props {
    page: Document;
    isPointing: boolean;
    onPointing: (is: boolean) => void;
}

/** Points at an element of the page, and says by which selectors it is found again. */
export function Point({ page, isPointing, onPointing }: Props) {
    const [chosen, setChosen] = useState<Element | null>(null);
    const [copied, setCopied] = useState('');
    const copy = (text: string): void =>
        void navigator.clipboard?.writeText(text).then(
            () => setCopied(text),
            () => setCopied(''),
        );
    const names = chosen ? passedOver(chosen) : [];

    return (
        <>
            <Pointer page={page} isPointing={isPointing} onPointing={onPointing} chosen={chosen} onChosen={setChosen} />
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
        </>
    );
}

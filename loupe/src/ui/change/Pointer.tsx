import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Spot } from '../../change/place';
import { bringToView, pick, step } from '../../point/pick';
import { called } from '../../point/words';
import { DropLine, Outline } from '../Outline';

interface Props {
    page: Document;
    isPointing: boolean;
    onPointing: (is: boolean) => void;
    chosen: Element | null;
    onChosen: (element: Element) => void;
    /** Where an element was dragged to. */
    onDropped?: (element: Element, spot: Spot) => void;
    children?: React.ReactNode;
}

/** Pointing at elements: by mouse on the page itself, by arrow keys while the button has the focus. */
export function Pointer({ page, isPointing, onPointing, chosen, onChosen, onDropped, children }: Props) {
    const [at, setAt] = useState<Element | null>(null);
    const [isByKeys, setIsByKeys] = useState(false);
    const [spot, setSpot] = useState<Spot | null>(null);
    const latest = useRef({ chosen, onChosen, onDropped });
    useLayoutEffect(() => {
        latest.current = { chosen, onChosen, onDropped };
    });
    // At once: whoever points moves on.
    useLayoutEffect(() => {
        if (!isPointing) {
            return;
        }

        return pick(page, {
            at: setAt,
            chosen: (element) => {
                setAt(null);
                latest.current.onChosen(element);
            },
            ended: () => {
                setAt(null);
                onPointing(false);
            },
            draggable: (element) => {
                const { chosen: own, onDropped: on } = latest.current;

                return on && own?.contains(element) && own !== page.body ? own : null;
            },
            over: setSpot,
            dropped: (element, to) => latest.current.onDropped?.(element, to),
        });
    }, [isPointing, page, onPointing]);
    const keys = (event: KeyboardEvent): void => {
        if (event.key.startsWith('Arrow')) {
            event.preventDefault();
            const to = step(at ?? chosen, event.key, page);
            if (to) {
                bringToView(to);
                setAt(to);
            }
        } else if (event.key === 'Enter' && at) {
            event.preventDefault();
            setAt(null);
            onChosen(at);
        } else if (event.key === 'Escape') {
            setAt(null);
        }
    };

    return (
        <>
            <p>
                <button
                    type="button"
                    className="plain"
                    aria-pressed={isPointing}
                    onFocus={(event) => setIsByKeys(event.currentTarget.matches(':focus-visible'))}
                    onClick={() => onPointing(!isPointing)}
                    onKeyDown={keys}
                    onBlur={() => {
                        setAt(null);
                        setIsByKeys(false);
                    }}
                >
                    Point
                </button>{' '}
                <button type="button" className="plain" aria-pressed={!isPointing} onClick={() => onPointing(!isPointing)}>
                    Interact
                </button>{' '}
                {children}
                <span className="soft" role="status">
                    {at
                        ? `${called(at)}. Click it, or press Enter.`
                        : isByKeys
                          ? 'Arrow keys: up to what is around, down into it, left and right to neighbours. Enter chooses.'
                          : isPointing
                            ? 'Click an element of the page.'
                            : 'The page does what it always does.'}
                </span>
            </p>
            {at && !spot && <Outline of={at} />}
            {chosen?.isConnected && <Outline of={chosen} look="chosen" />}
            {spot && <DropLine at={spot} />}
        </>
    );
}

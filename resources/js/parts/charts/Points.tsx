import { useRef, useState, type KeyboardEvent, type ReactNode } from 'react';

export interface Point {
    key: string;
    x: number;
    y: number;
    /** What it says, for those who hear it and below the picture. */
    words: string;
    mark: ReactNode;
    /** Letters beside it: they repeat its words, so they are drawn apart and not heard. */
    letters?: ReactNode;
}

interface Props {
    label: string;
    points: Point[];
    /** Told which point is looked at; null for none. */
    onLook?: (point: Point | null) => void;
    onChoose?: (point: Point) => void;
}

/** Points that the keyboard reaches: one stop for Tab, then the arrows; Home and End go to the first and the last. */
export function Points({ label, points, onLook, onChoose }: Props) {
    const [at, setAt] = useState(0);
    const group = useRef<SVGGElement>(null);
    const current = Math.min(at, points.length - 1);
    const go = (next: number): void => {
        const place = Math.max(0, Math.min(points.length - 1, next));
        setAt(place);
        (group.current?.children[place] as SVGElement | undefined)?.focus();
    };
    const press = (event: KeyboardEvent): void => {
        const next = {
            ArrowRight: current + 1,
            ArrowLeft: current - 1,
            ArrowDown: current + 1,
            ArrowUp: current - 1,
            Home: 0,
            End: points.length - 1,
        }[event.key];
        if (next !== undefined) {
            event.preventDefault();
            go(next);
        } else if ((event.key === 'Enter' || event.key === ' ') && onChoose) {
            event.preventDefault();
            onChoose(points[current]);
        }
    };

    return (
        <>
            <g aria-hidden="true" pointerEvents="none">
                {points.map((point) => (
                    <g key={point.key}>{point.letters}</g>
                ))}
            </g>
            <g ref={group} role="group" aria-label={label} onKeyDown={press}>
                {points.map((point, i) => (
                    <g
                        key={point.key}
                        role={onChoose ? 'button' : 'img'}
                        aria-label={point.words}
                        tabIndex={i === current ? 0 : -1}
                        onFocus={() => {
                            setAt(i);
                            onLook?.(point);
                        }}
                        onBlur={() => onLook?.(null)}
                        onMouseEnter={() => onLook?.(point)}
                        onMouseLeave={() => onLook?.(null)}
                        onClick={onChoose ? () => onChoose(point) : undefined}
                        className={`outline-none focus-visible:[&_.focus-ring]:visible ${onChoose ? 'cursor-pointer' : ''}`}
                    >
                        {point.mark}
                        <circle
                            className="focus-ring invisible"
                            cx={point.x}
                            cy={point.y}
                            r={9}
                            fill="none"
                            stroke="#0F6B8A"
                            strokeWidth={2}
                        />
                    </g>
                ))}
            </g>
        </>
    );
}

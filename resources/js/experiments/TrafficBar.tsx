import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { VARIANT_COLOURS } from '../parts/VariantMark';
import { tidy, withBorder } from './weights';

interface Props {
    /** Per cent of all visitors who take part. */
    share: number;
    /** Per cent of those, for each variant; they make 100. */
    weights: number[];
    names: string[];
    onShare: (share: number) => void;
    onWeights: (weights: number[]) => void;
}

/** The whole traffic as a bar: each variant's part of it, and what stays outside. Its borders are dragged, or moved with the arrow keys. */
export function TrafficBar({ share, weights, names, onShare, onWeights }: Props) {
    const bar = useRef<HTMLDivElement>(null);
    const ends = weights.map((_, i) => weights.slice(0, i + 1).reduce((a, b) => a + b, 0));
    const whole = (part: number): number => (part * share) / 100;

    return (
        <div role="group" aria-label="The whole traffic">
            <div ref={bar} className="relative flex h-9 border border-ink bg-ground">
                {weights.map((weight, i) => (
                    <div
                        key={i}
                        className="flex items-center justify-center overflow-hidden text-sm whitespace-nowrap"
                        style={{ width: `${whole(weight)}%`, background: VARIANT_COLOURS[i % VARIANT_COLOURS.length] }}
                    >
                        {whole(weight) >= WIDE_ENOUGH && <span className="bg-leaf px-1">{tidy(whole(weight))} %</span>}
                    </div>
                ))}
                <div className="flex flex-1 items-center justify-center overflow-hidden text-sm whitespace-nowrap text-soft">
                    {share <= 100 - WIDE_ENOUGH && `${tidy(100 - share)} % outside`}
                </div>
                {weights.slice(0, -1).map((_, i) => (
                    <Border
                        key={i}
                        bar={bar}
                        label={`Border between ${names[i]} and ${names[i + 1]}`}
                        at={whole(ends[i])}
                        value={ends[i]}
                        from={ends[i] - weights[i]}
                        to={ends[i + 1]}
                        text={`${names[i]} ${weights[i]} per cent, ${names[i + 1]} ${weights[i + 1]} per cent`}
                        scale={share > 0 ? 100 / share : 0}
                        onMove={(by) => onWeights(withBorder(weights, i, by))}
                    />
                ))}
                <Border
                    bar={bar}
                    label="End of the share"
                    at={share}
                    value={share}
                    from={0}
                    to={100}
                    text={`${share} per cent of the traffic takes part`}
                    scale={1}
                    onMove={(by) => onShare(tidy(Math.min(100, Math.max(0, share + by))))}
                />
            </div>
            <p className="mt-0.5 text-sm text-soft">
                All visitors of the pages. Drag a border, or move it with the arrow keys (shift: ten).
            </p>
        </div>
    );
}

/** A part that is narrower says its figure below alone, in its field. */
const WIDE_ENOUGH = 8;

interface BorderProps {
    bar: React.RefObject<HTMLDivElement | null>;
    label: string;
    /** Where it stands, in per cent of the bar. */
    at: number;
    value: number;
    from: number;
    to: number;
    text: string;
    /** Units of the value for a per cent of the bar. */
    scale: number;
    onMove: (by: number) => void;
}

function Border({ bar, label, at, value, from, to, text, scale, onMove }: BorderProps) {
    const keys = (event: KeyboardEvent): void => {
        const step = event.shiftKey ? 10 : 1;
        const by = { ArrowLeft: -step, ArrowDown: -step, ArrowRight: step, ArrowUp: step, Home: from - value, End: to - value }[event.key];
        if (by !== undefined) {
            event.preventDefault();
            onMove(by);
        }
    };
    const drag = (event: PointerEvent<HTMLDivElement>): void => {
        const box = bar.current?.getBoundingClientRect();
        if (box && event.currentTarget.hasPointerCapture(event.pointerId)) {
            const by = Math.round((((event.clientX - box.left) / box.width) * 100 - at) * scale);
            if (by !== 0) {
                onMove(by);
            }
        }
    };

    return (
        <div
            role="slider"
            tabIndex={0}
            aria-label={label}
            aria-valuemin={tidy(from)}
            aria-valuemax={tidy(to)}
            aria-valuenow={tidy(value)}
            aria-valuetext={text}
            className="absolute -top-1 -bottom-1 w-3 -translate-x-1/2 cursor-ew-resize touch-none border-x-4 border-transparent bg-ink bg-clip-padding focus-visible:outline-2 focus-visible:outline-offset-1 focus-visible:outline-accent"
            style={{ left: `${at}%` }}
            onKeyDown={keys}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag}
        />
    );
}

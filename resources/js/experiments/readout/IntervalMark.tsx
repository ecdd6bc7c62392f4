import { VARIANT_COLOURS } from '../../parts/VariantMark';

const WIDTH = 240;
const HEIGHT = 22;
const ROOM = 8;

/** From where to where the differences of a goal are drawn: all of them, zero and the worthwhile ones, on one scale. */
export interface Scale {
    from: number;
    to: number;
}

/** One scale for all variants of a goal. What has no end is drawn to the edge. */
export function scaleOf(ends: (number | null | undefined)[], marks: number[]): Scale {
    const all = [0, ...marks, ...ends.filter((end): end is number => typeof end === 'number')];
    const [from, to] = [Math.min(...all), Math.max(...all)];
    const room = (to - from || 1) * 0.06;

    return { from: from - room, to: to + room };
}

interface Props {
    scale: Scale;
    points: number;
    low: number | null;
    high: number | null;
    /** Differences that are asked for, or allowed: drawn as dashed lines. */
    marks: number[];
    index: number;
    words: string;
}

/** A difference with its interval: zero as a line, what was asked for as a dashed one. */
export function IntervalMark({ scale, points, low, high, marks, index, words }: Props) {
    const x = (value: number): number => ROOM + ((value - scale.from) / (scale.to - scale.from)) * (WIDTH - 2 * ROOM);
    const colour = VARIANT_COLOURS[index % VARIANT_COLOURS.length];
    const middle = HEIGHT / 2;
    const [left, right] = [low === null ? 0 : x(low), high === null ? WIDTH : x(high)];

    return (
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} className="max-w-full" role="img" aria-label={words}>
            <line x1={x(0)} x2={x(0)} y1={0} y2={HEIGHT} stroke="#1B2430" />
            {marks.map((mark) => (
                <line key={mark} x1={x(mark)} x2={x(mark)} y1={0} y2={HEIGHT} stroke="#5A6472" strokeDasharray="3 3" />
            ))}
            <line x1={left} x2={right} y1={middle} y2={middle} stroke={colour} strokeWidth="3" />
            {low !== null && <line x1={left} x2={left} y1={middle - 5} y2={middle + 5} stroke={colour} strokeWidth="2" />}
            {high !== null && <line x1={right} x2={right} y1={middle - 5} y2={middle + 5} stroke={colour} strokeWidth="2" />}
            <rect x={x(points) - 4} y={middle - 4} width="8" height="8" fill={colour} transform={`rotate(45 ${x(points)} ${middle})`} />
        </svg>
    );
}

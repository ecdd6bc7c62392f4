import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { useState, type ReactNode } from 'react';
import { Axes } from './Axes';
import { ACCENT, FONT, INK, MARGIN } from './frame';
import { Points, type Point } from './Points';
import { Readout } from './Readout';
import { count } from '../figures';

interface Bar {
    /** Where it ends, as it is written. */
    label: string;
    number: number;
    words: string;
    marked?: boolean;
}

interface Props {
    label: string;
    bars: Bar[];
    width: number;
    hint: string;
    /** Lines across the bars, at a place between two of them. */
    lines?: { at: number; words: string }[];
    children?: ReactNode;
}

const HEIGHT = 240;
/** Of a bar: a few ranges make no wall. */
const WIDEST = 72;

/** Bars beside each other, one for each range. */
export function Histogram({ label, bars, width, hint, lines = [] }: Props) {
    const [looked, setLooked] = useState<Point | null>(null);
    const inner = Math.min(width - MARGIN.left - MARGIN.right, bars.length * WIDEST);
    const height = HEIGHT - MARGIN.top - MARGIN.bottom;
    const x = scaleLinear<number>({ domain: [0, bars.length], range: [0, inner] });
    const y = scaleLinear<number>({ domain: [0, Math.max(1, ...bars.map(({ number }) => number))], range: [height, 0], nice: true });
    const each = Math.max(1, Math.ceil(bars.length / Math.max(1, Math.floor(inner / 70))));
    const points = bars.map((bar, i): Point => ({
        key: String(i),
        x: x(i + 0.5),
        y: y(bar.number),
        words: bar.words,
        mark: (
            <g>
                <rect x={x(i)} width={Math.max(1, x(1) - x(0))} height={height} fill="transparent" />
                <rect
                    x={x(i) + 0.5}
                    y={y(bar.number)}
                    width={Math.max(1, x(1) - x(0) - 1)}
                    height={height - y(bar.number)}
                    fill={bar.marked ? INK : ACCENT}
                    fillOpacity={bar.marked ? 1 : 0.55}
                />
            </g>
        ),
    }));

    return (
        <>
            <svg width={width} height={HEIGHT} role="group" aria-label={label}>
                <Group left={MARGIN.left} top={MARGIN.top}>
                    <Axes
                        x={x}
                        y={y}
                        xTicks={bars.map((_, i) => i + 1).filter((i) => i % each === 0)}
                        xWords={(i) => bars[i - 1]?.label ?? ''}
                        yWords={(value) => count(value)}
                    />
                    <Points label={label} points={points} onLook={setLooked} />
                    {lines.map((line) => (
                        <g key={line.words}>
                            <line x1={x(line.at)} x2={x(line.at)} y1={0} y2={height} stroke={INK} strokeDasharray="5 3" />
                            <text
                                x={x(line.at) + (line.at > bars.length * 0.8 ? -4 : 4)}
                                textAnchor={line.at > bars.length * 0.8 ? 'end' : 'start'}
                                y={10}
                                {...FONT}
                                fill={INK}
                            >
                                {line.words}
                            </text>
                        </g>
                    ))}
                </Group>
            </svg>
            <Readout words={looked?.words ?? null} hint={hint} />
        </>
    );
}

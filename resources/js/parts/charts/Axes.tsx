import { AxisBottom, AxisLeft } from '@visx/axis';
import type { scaleLinear } from '@visx/scale';
import { FONT, INK, LINE } from './frame';

type Linear = ReturnType<typeof scaleLinear<number>>;

interface Props {
    x: Linear;
    y: Linear;
    xTicks: number[];
    xWords: (value: number) => string;
    yTicks?: number[];
    yWords: (value: number) => string;
}

/** Hairlines at the ticks of the left axis, and both axes. */
export function Axes({ x, y, xTicks, xWords, yTicks = y.ticks(5), yWords }: Props) {
    const [bottom] = y.range();
    const [left, right] = x.range();

    return (
        <>
            {yTicks.map((value) => (
                <line key={value} x1={left} x2={right} y1={y(value)} y2={y(value)} stroke={LINE} />
            ))}
            <AxisLeft
                scale={y}
                tickValues={yTicks}
                tickFormat={(value) => yWords(Number(value))}
                hideAxisLine
                hideTicks
                tickLabelProps={{ ...FONT, textAnchor: 'end', dx: -4, dy: 4 }}
            />
            <AxisBottom
                scale={x}
                top={bottom}
                tickValues={xTicks}
                tickFormat={(value) => xWords(Number(value))}
                stroke={INK}
                tickStroke={INK}
                tickLabelProps={{ ...FONT, textAnchor: 'middle' }}
            />
        </>
    );
}

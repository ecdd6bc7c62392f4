import { AxisBottom, AxisLeft } from '@visx/axis';
import { Group } from '@visx/group';
import { scaleLinear, scaleLog } from '@visx/scale';
import { LinePath } from '@visx/shape';
import type { PlanFollowed } from '../../api/plans';

const WIDTH = 620;
const HEIGHT = 250;
const MARGIN = { top: 14, right: 16, bottom: 40, left: 62 };
const FONT = { fontSize: 12, fill: '#5A6472', fontFamily: 'inherit' };

interface Props {
    curve: PlanFollowed['curve'];
    /** How an effect is written. */
    words: (point: PlanFollowed['curve'][number]) => string;
    /** The weeks that were chosen, or that the wanted effect takes. */
    weeks: number | null;
    wanted: number | null;
}

/** The smallest effect that can be found, against the weeks that it takes; the wanted one as a dashed line. */
export function EffectCurve({ curve, words, weeks, wanted }: Props) {
    const drawn = curve.filter((point): point is typeof point & { points: number } => point.points !== null && point.points > 0);
    if (drawn.length < 2) {
        return <p className="text-sm text-soft">So few visitors come that there is nothing to draw.</p>;
    }
    const values = [...drawn.map(({ points }) => points), ...(wanted ? [Math.abs(wanted)] : [])];
    const x = scaleLinear({ domain: [1, drawn[drawn.length - 1].weeks], range: [0, WIDTH - MARGIN.left - MARGIN.right] });
    const y = scaleLog({
        domain: [Math.min(...values) * 0.85, Math.max(...values) * 1.1],
        range: [HEIGHT - MARGIN.top - MARGIN.bottom, 0],
    });
    const chosen = drawn.find((point) => point.weeks === weeks);
    // Round numbers as they are written: in percent of the baseline, where there is one.
    const scale = drawn[0].lift === null ? 1 : (100 * drawn[0].lift) / drawn[0].points;
    const tick = (value: number): string => (drawn[0].lift === null ? short(value) : `${short(scale * value)} %`);
    const ticks = between(scale * y.domain()[0], scale * y.domain()[1]).map((value) => value / scale);

    return (
        <svg
            viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
            className="w-full"
            role="img"
            aria-label={`Smallest effect that can be found: ${drawn.map((point) => `${point.weeks} weeks ${words(point)}`).join(', ')}`}
        >
            <Group left={MARGIN.left} top={MARGIN.top}>
                {ticks.map((value) => (
                    <line key={value} x1={0} x2={x.range()[1]} y1={y(value)} y2={y(value)} stroke="#D9D6CC" />
                ))}
                <AxisLeft
                    scale={y}
                    tickValues={ticks}
                    tickFormat={(value) => tick(Number(value))}
                    hideAxisLine
                    hideTicks
                    tickLabelProps={{ ...FONT, textAnchor: 'end', dx: -4, dy: 4 }}
                />
                <AxisBottom
                    scale={x}
                    top={y.range()[0]}
                    numTicks={Math.min(drawn.length, 13)}
                    tickFormat={(value) => (Number.isInteger(Number(value)) ? String(value) : '')}
                    stroke="#1B2430"
                    tickStroke="#1B2430"
                    tickLabelProps={{ ...FONT, textAnchor: 'middle' }}
                    label="weeks"
                    labelProps={{ ...FONT, textAnchor: 'middle' }}
                />
                {wanted !== null && wanted !== 0 && (
                    <g>
                        <line
                            x1={0}
                            x2={x.range()[1]}
                            y1={y(Math.abs(wanted))}
                            y2={y(Math.abs(wanted))}
                            stroke="#1B2430"
                            strokeDasharray="5 4"
                        />
                        <text x={x.range()[1]} y={y(Math.abs(wanted)) - 5} textAnchor="end" {...FONT} fill="#1B2430">
                            wanted
                        </text>
                    </g>
                )}
                <LinePath data={drawn} x={(point) => x(point.weeks)} y={(point) => y(point.points)} stroke="#0F6B8A" strokeWidth={2} />
                {drawn.map((point) => (
                    <circle key={point.weeks} cx={x(point.weeks)} cy={y(point.points)} r={2.5} fill="#0F6B8A">
                        <title>{`${point.weeks} weeks, ${point.visitors} visitors: ${words(point)}`}</title>
                    </circle>
                ))}
                {chosen && (
                    <g>
                        <line x1={x(chosen.weeks)} x2={x(chosen.weeks)} y1={0} y2={y.range()[0]} stroke="#1B2430" />
                        <path
                            d={`M${x(chosen.weeks)} ${y(chosen.points) - 7}l7 7-7 7-7-7Z`}
                            fill="#FFFFFF"
                            stroke="#1B2430"
                            strokeWidth={2}
                        />
                        <text
                            x={x(chosen.weeks) + (chosen.weeks > drawn.length * 0.75 ? -8 : 8)}
                            y={2}
                            textAnchor={chosen.weeks > drawn.length * 0.75 ? 'end' : 'start'}
                            {...FONT}
                            fill="#1B2430"
                            fontWeight={600}
                        >
                            {`${chosen.weeks} weeks: ${words(chosen)}`}
                        </text>
                    </g>
                )}
            </Group>
        </svg>
    );
}

function short(value: number): string {
    return String(Number(value.toPrecision(2)));
}

/** Round numbers between two, each about one and a half times the one before. */
function between(low: number, high: number): number[] {
    const found: number[] = [];
    for (let power = Math.floor(Math.log10(low)); power <= Math.ceil(Math.log10(high)); power++) {
        for (const digit of [1, 1.5, 2, 3, 5, 7]) {
            const value = digit * 10 ** power;
            if (value >= low && value <= high) {
                found.push(value);
            }
        }
    }

    return found.length > 7 ? found.filter((_, i) => i % 2 === 0) : found;
}

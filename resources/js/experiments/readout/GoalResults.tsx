import type { Experiment } from '../../api/client';
import type { ReadoutGoal, ReadoutVariant } from '../../api/readout';
import { count, percent, pValue } from '../../parts/figures';
import { VariantMark } from '../../parts/VariantMark';
import { IntervalMark, scaleOf } from './IntervalMark';
import { TESTS } from './verdicts';

const HEADS: Record<ReadoutGoal['measure'], string> = { rate: 'Rate', mean: 'Per visitor', ratio: 'Per session' };

/** One goal: what each variant comes to, and how it differs from the control, drawn to one scale. */
export function GoalResults({ goal, experiment }: { goal: ReadoutGoal; experiment: Experiment }) {
    const sign = goal.lower_is_better ? -1 : 1;
    const marks = [...(goal.worthwhile ? [sign * goal.worthwhile] : []), ...(goal.margin ? [-sign * goal.margin] : [])];
    const scale = scaleOf(
        goal.variants.flatMap(({ difference }) => [difference?.low, difference?.high, difference?.points]),
        marks,
    );

    return (
        <div className="overflow-x-auto" tabIndex={0} role="region" aria-label={`Figures of ${goal.name}`}>
            <table className="w-full text-right tabular-nums">
                <thead className="text-sm text-soft">
                    <tr>
                        <th className="text-left font-normal">Variant</th>
                        <th className="pl-3 font-normal">Visitors</th>
                        {goal.variants[0].hits !== null && <th className="pl-3 font-normal">Hits</th>}
                        <th className="pl-3 font-normal">{HEADS[goal.measure]}</th>
                        <th className="pl-4 text-left font-normal">Difference from the control</th>
                    </tr>
                </thead>
                <tbody>
                    {goal.variants.map((one, i) => (
                        <tr key={one.key} className="border-t border-line align-top" data-readout={`${goal.key} ${one.key}`}>
                            <th className="py-1 text-left font-normal">
                                <VariantMark index={i} />
                                {nameOf(experiment, one.key)}
                                {one.control && <span className="text-sm text-soft"> control</span>}
                            </th>
                            <td className="py-1 pl-3">{count(one.n ?? 0)}</td>
                            {one.hits !== null && <td className="py-1 pl-3">{count(one.hits ?? 0)}</td>}
                            <td className="py-1 pl-3 whitespace-nowrap" data-figure="value">
                                {one.told?.value}
                            </td>
                            <td className="py-1 pl-4 text-left">
                                {one.difference && (
                                    <>
                                        <IntervalMark
                                            scale={scale}
                                            points={one.difference.points}
                                            low={one.difference.low}
                                            high={one.difference.high}
                                            marks={marks}
                                            index={i}
                                            words={`${nameOf(experiment, one.key)}: ${one.told?.difference ?? ''}, ${one.told?.interval ?? ''}`}
                                        />
                                        <p data-figure="difference">
                                            <strong>{one.told?.difference}</strong>
                                            {one.told?.relative && `, that is ${one.told.relative}`}
                                            <span className="text-soft"> ({one.told?.interval})</span>
                                        </p>
                                        <Arithmetic one={one} goal={goal} />
                                    </>
                                )}
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </div>
    );
}

/** What stands behind a difference: its test, chance, loss, and what it is without the visitor's earlier behaviour. */
function Arithmetic({ one, goal }: { one: ReadoutVariant; goal: ReadoutGoal }) {
    const difference = one.difference;
    if (!difference) {
        return null;
    }

    return (
        <details className="text-sm">
            <summary className="cursor-pointer text-accent underline underline-offset-4">How it was worked out</summary>
            <ul className="list-disc pl-5">
                <li>
                    p {pValue(difference.p, null)}
                    {difference.p_raw !== undefined &&
                        `, adjusted for the number of variants by Holm (1979); ${pValue(difference.p_raw, null).replace('= ', '')} before`}
                    . By {TESTS[difference.test] ?? difference.test}.
                </li>
                {typeof one.better === 'number' && (
                    <li>
                        The chance that it is better than the control is {percent(one.better, 1)}, from{' '}
                        {goal.measure === 'rate' && !goal.joined
                            ? 'uniform priors on the rates'
                            : 'flat priors, by the normal approximation'}
                        ; choosing it costs {one.told?.loss} on average.
                    </li>
                )}
                {one.relative && (
                    <li>
                        Relative: {one.told?.relative} ({signed(one.relative.low)} to {signed(one.relative.high)}).
                    </li>
                )}
                {typeof one.sd === 'number' && <li>Standard deviation of a visitor’s value: {one.sd.toFixed(2)}.</li>}
                {typeof one.capped === 'number' && (
                    <li>
                        {count(one.capped)} visitors above the cap of {goal.cap} count as that.
                    </li>
                )}
                {one.reduced && (
                    <li>
                        With what visitors did before taken off: {short(one.reduced.points)} ({short(one.reduced.low)} to{' '}
                        {short(one.reduced.high)}), p {pValue(one.reduced.p, null)}. By {TESTS.reduced}.
                    </li>
                )}
                {goal.naive_differs && (
                    <li>Adding the epochs up would turn its sign: what the weights did would look like what the variant did.</li>
                )}
            </ul>
        </details>
    );
}

export const nameOf = (experiment: Experiment, key: string): string => experiment.variants.find((one) => one.key === key)?.name ?? key;

export function short(number: number | null): string {
    return number === null ? 'no end' : Number(number.toPrecision(3)).toString().replace('-', '−');
}

function signed(part: number | null): string {
    return part === null ? 'no end' : `${part < 0 ? '−' : '+'}${percent(Math.abs(part), 1)}`;
}

import type { Experiment } from '../../api/client';
import type { Readout, ReadoutGoal } from '../../api/readout';
import { count, pValue } from '../../parts/figures';
import { IntervalMark, scaleOf } from './IntervalMark';
import { nameOf, short } from './GoalResults';

type Parts = NonNullable<Readout['segments']>;

/** The difference in parts of the visitors, with what keeps one from fishing. */
export function Segments({ parts, goal, experiment }: { parts: Parts; goal: ReadoutGoal; experiment: Experiment }) {
    if (parts.dimensions.length === 0) {
        return <p className="text-soft">No part of the visitors has 50 of the control and of another variant.</p>;
    }
    const unit = goal.measure === 'rate' ? 100 : 1;
    const scale = scaleOf(
        parts.dimensions.flatMap(({ rows }) => rows.flatMap(({ low, high }) => [low, high])),
        [],
    );

    return (
        <>
            <p className="border-l-3 border-doubt pl-2 text-sm">{parts.warning}</p>
            <div className="mt-2 overflow-x-auto" tabIndex={0} role="region" aria-label="Parts of the visitors">
                <table className="w-full border-y border-line bg-leaf text-right tabular-nums">
                    <thead className="text-sm text-soft">
                        <tr>
                            <th className="px-3 text-left font-normal">Part</th>
                            <th className="px-3 font-normal">Visitors</th>
                            <th className="px-3 font-normal">of the control</th>
                            <th className="px-3 text-left font-normal">Difference{goal.measure === 'rate' && ', in points'}</th>
                            <th className="px-3 font-normal">p</th>
                            <th className="px-3 font-normal">q</th>
                        </tr>
                    </thead>
                    {parts.dimensions.map((one) => (
                        <tbody key={`${one.dimension} ${one.variant}`}>
                            <tr className="border-t border-line">
                                <th colSpan={6} className="px-3 pt-1 text-left font-semibold">
                                    {one.dimension}
                                    <span className="font-normal text-soft">
                                        {' '}
                                        · {nameOf(experiment, one.variant)}
                                        {one.interaction &&
                                            ` · whether the difference is not the same everywhere: p ${pValue(one.interaction.p, null)} (Cochran’s Q ${one.interaction.q.toFixed(2)}, ${one.interaction.df} df)`}
                                    </span>
                                </th>
                            </tr>
                            {one.rows.map((row) => (
                                <tr key={row.value}>
                                    <td className="px-3 text-left break-words">{row.value}</td>
                                    <td className="px-3">{count(row.n)}</td>
                                    <td className="px-3">{count(row.control_n)}</td>
                                    <td className="px-3 text-left">
                                        <span className="flex flex-wrap items-center gap-x-3">
                                            <IntervalMark
                                                scale={scale}
                                                points={row.points}
                                                low={row.low}
                                                high={row.high}
                                                marks={[]}
                                                index={experiment.variants.findIndex(({ key }) => key === one.variant)}
                                                words={`${row.value}: ${short(unit * row.points)}`}
                                            />
                                            {short(unit * row.points)} ({row.low === null ? 'no end' : short(unit * row.low)} to{' '}
                                            {row.high === null ? 'no end' : short(unit * row.high)})
                                        </span>
                                    </td>
                                    <td className="px-3 whitespace-nowrap">{pValue(row.p, null).replace('= ', '')}</td>
                                    <td className="px-3 whitespace-nowrap">{pValue(row.q, null).replace('= ', '')}</td>
                                </tr>
                            ))}
                        </tbody>
                    ))}
                </table>
            </div>
        </>
    );
}

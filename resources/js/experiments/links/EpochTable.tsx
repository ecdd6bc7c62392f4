import type { Experiment, Observations } from '../../api/client';
import { count, percent, pValue } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { VariantMark } from '../../parts/VariantMark';

/** The epochs as columns: in each, who entered in it against its own weights. */
export function EpochTable({ experiment, observed, deep }: { experiment: Experiment; observed: Observations; deep: boolean }) {
    const { epochs } = observed;

    return (
        <div className="mt-3 border border-line bg-leaf px-4 py-2">
            <h3 className="font-semibold">Epochs</h3>
            <TimeLine experiment={experiment} observed={observed} />
            <div className="overflow-x-auto" tabIndex={0} role="region" aria-label="Epochs">
                <table className="w-full text-right">
                    <thead className="text-sm text-soft">
                        <tr>
                            <th className="py-1 text-left font-normal">Entered in</th>
                            {epochs.map((epoch, i) => (
                                <th key={i} className="px-3 font-normal whitespace-nowrap">
                                    {i + 1}: from <Moment at={epoch.from} />
                                    {epoch.share !== null && epoch.share < 1 && `, share ${percent(epoch.share, 0)}`}
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {experiment.variants.map((variant, v) => (
                            <tr key={variant.key} className="border-t border-line">
                                <td className="flex items-center py-1 text-left">
                                    <VariantMark index={v} />
                                    {variant.name}
                                </td>
                                {epochs.map((epoch, i) => {
                                    const weights = epoch.weights.reduce((sum, one) => sum + one, 0);

                                    return (
                                        <td key={i} className="px-3 whitespace-nowrap" data-epoch={i} data-variant={variant.key}>
                                            {count(epoch.counts[v])}{' '}
                                            <span className="text-sm text-soft">
                                                at {percent(weights > 0 ? epoch.weights[v] / weights : 0)}
                                            </span>
                                        </td>
                                    );
                                })}
                            </tr>
                        ))}
                        <tr className="border-t border-line">
                            <td className="py-1 text-left">SRM within it</td>
                            {epochs.map((epoch, i) => (
                                <td
                                    key={i}
                                    className={`px-3 whitespace-nowrap ${epoch.srm?.verdict === 'mismatch' ? 'font-semibold text-broken' : ''}`}
                                >
                                    {epoch.srm ? `p ${pValue(epoch.srm.p, epoch.srm.log_p)}` : 'nothing to test'}
                                </td>
                            ))}
                        </tr>
                    </tbody>
                </table>
            </div>
            {deep && (
                <p className="mt-1 text-sm text-soft">
                    Visitors of one epoch are never held against the weights of another. Whoever entered counts for the epoch of the first
                    exposure, whatever comes later.
                </p>
            )}
        </div>
    );
}

/** When each epoch began, as ticks on the time that it has run. */
function TimeLine({ experiment, observed }: { experiment: Experiment; observed: Observations }) {
    const moments = observed.epochs.map(({ from }) => (from ? Date.parse(from) : NaN)).filter((time) => !Number.isNaN(time));
    const end = Date.parse(experiment.ended_at ?? observed.counted.as_of ?? '') || moments[moments.length - 1] + 1;
    const length = Math.max(1, end - moments[0]);

    return (
        <svg viewBox="0 0 600 22" className="my-1 w-full max-w-3xl" role="img" aria-label={`${moments.length} epochs on the time line`}>
            <line x1="4" x2="596" y1="11" y2="11" stroke="#D9D6CC" strokeWidth="2" />
            {moments.map((time, i) => {
                const x = 4 + (592 * (time - moments[0])) / length;

                return (
                    <g key={time}>
                        <line x1={x} x2={x} y1="4" y2="18" stroke="#1B2430" strokeWidth="2" />
                        <text x={x + 4} y="9" fontSize="9" fill="#5A6472">
                            {i + 1}
                        </text>
                    </g>
                );
            })}
        </svg>
    );
}

import type { Experiment } from '../../api/client';
import type { Readout } from '../../api/readout';
import { count, percent } from '../../parts/figures';
import { VARIANT_COLOURS, VariantMark } from '../../parts/VariantMark';
import { nameOf, short } from './GoalResults';

type Spread = NonNullable<Readout['values']>[number];

/** How the values of visitors are spread, and which few of them decide. */
export function Values({ values, name, experiment }: { values: Spread; name: string; experiment: Experiment }) {
    const bins = [...new Set(values.variants.flatMap(({ histogram }) => histogram.map(({ from }) => from)))].sort((a, b) => a - b);
    const most = Math.max(1, ...values.variants.flatMap(({ histogram }) => histogram.map(({ units }) => units)));

    return (
        <section className="mt-6">
            <h2 className="text-lg font-semibold">Values of “{name}”</h2>
            <p className="text-sm text-soft">
                Of visitors, all that one brought together. Quantiles are of those who brought anything, to about 1 %.
                {values.bootstrap.length > 0 &&
                    ` Values are skew for so few visitors (fewer than 355 times the squared skewness; Kohavi et al. 2014), so a bootstrap stands beside Welch’s interval: ${values.bootstrap
                        .map((one) => `${nameOf(experiment, one.variant)} ${short(one.low)} to ${short(one.high)}`)
                        .join('; ')}.`}
            </p>
            <div className="mt-2 overflow-x-auto" tabIndex={0} role="region" aria-label={`Values of ${name}`}>
                <table className="w-full border-y border-line bg-leaf text-right tabular-nums">
                    <thead className="text-sm text-soft">
                        <tr>
                            <th className="px-3 text-left font-normal">Variant</th>
                            <th className="px-3 font-normal">Visitors</th>
                            <th className="px-3 font-normal">who brought something</th>
                            {(values.variants[0]?.quantiles ?? []).map(({ q }) => (
                                <th key={q} className="px-3 font-normal">
                                    {q === 0.5 ? 'median' : percent(q, 0)}
                                </th>
                            ))}
                            <th className="px-3 font-normal">the largest brings</th>
                            <th className="px-3 font-normal">mean without it</th>
                            <th className="px-3 text-left font-normal">
                                spread, from {short(bins[0] ?? 0)} up, a bar a fifth of a tenfold
                            </th>
                        </tr>
                    </thead>
                    <tbody>
                        {values.variants.map((one, i) => (
                            <tr key={one.key} className="border-t border-line">
                                <th className="px-3 py-1 text-left font-normal">
                                    <VariantMark index={i} />
                                    {nameOf(experiment, one.key)}
                                </th>
                                <td className="px-3">{count(one.n)}</td>
                                <td className="px-3">{count(one.with_value)}</td>
                                {one.quantiles.map(({ q, value, low, high }) => (
                                    <td key={q} className="px-3 whitespace-nowrap">
                                        {value === null ? '–' : short(value)}
                                        <span className="block text-sm text-soft">
                                            {low === null || high === null ? 'too few to bound' : `${short(low)} to ${short(high)}`}
                                        </span>
                                    </td>
                                ))}
                                <td className="px-3">{one.largest[0] ? percent(one.largest[0].share, 1) : '–'}</td>
                                <td className="px-3">{one.largest[0] ? short(one.largest[0].mean_without) : '–'}</td>
                                <td className="px-3 text-left">
                                    <svg
                                        width={Math.max(10, 14 * bins.length)}
                                        height="34"
                                        role="img"
                                        aria-label={one.histogram
                                            .map(({ from, to, units }) => `${short(from)} to ${short(to)}: ${units}`)
                                            .join(', ')}
                                    >
                                        {one.histogram.map(({ from, units }) => (
                                            <rect
                                                key={from}
                                                x={14 * bins.indexOf(from)}
                                                width="11"
                                                y={34 - (32 * units) / most}
                                                height={(32 * units) / most}
                                                fill={VARIANT_COLOURS[i % VARIANT_COLOURS.length]}
                                            />
                                        ))}
                                    </svg>
                                </td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
            <details className="mt-1 text-sm">
                <summary className="cursor-pointer text-accent underline underline-offset-4">Which visitors decide</summary>
                <table className="mt-1 text-right tabular-nums">
                    <thead className="text-soft">
                        <tr>
                            <th className="pr-3 text-left font-normal">Without the</th>
                            {values.variants.map((one) => (
                                <th key={one.key} className="px-3 font-normal">
                                    {nameOf(experiment, one.key)}: value, part of all, mean without
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {Array.from({ length: Math.max(0, ...values.variants.map(({ largest }) => largest.length)) }, (_, at) => (
                            <tr key={at} className="border-t border-line">
                                <th className="pr-3 text-left font-normal">{at === 0 ? 'largest' : `${at + 1} largest`}</th>
                                {values.variants.map(({ key, largest }) => (
                                    <td key={key} className="px-3">
                                        {largest[at]
                                            ? `${short(largest[at].value)}, ${percent(largest[at].share, 1)}, ${short(largest[at].mean_without)}`
                                            : '–'}
                                    </td>
                                ))}
                            </tr>
                        ))}
                    </tbody>
                </table>
            </details>
        </section>
    );
}

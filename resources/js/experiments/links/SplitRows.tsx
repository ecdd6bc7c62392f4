import type { Observations } from '../../api/client';
import { count, decimal, percent, plural, pValue, signedPercent } from '../../parts/figures';
import { VariantMark } from '../../parts/VariantMark';
import { EpochTable } from './EpochTable';
import { Row } from './Row';
import type { Sides } from './Workbench';

/** Visitors per variant against the weights, and what the SRM test makes of them. */
export function SplitRows({ experiment, observed, site, deep }: Sides) {
    const sum = experiment.variants.reduce((total, variant) => total + variant.weight, 0);
    const mismatch = observed.srm?.verdict === 'mismatch';

    return (
        <>
            {experiment.variants.map((variant, i) => {
                const seen = observed.variants[i];
                const tested = observed.srm?.observed[i] ?? seen.exposures.visitors;
                const difference = seen?.expected ? tested / seen.expected - 1 : null;

                return (
                    <Row
                        key={variant.key}
                        declared={
                            <span className="flex items-center">
                                <VariantMark index={i} />
                                <span className="flex-1">
                                    {variant.name} <span className="font-mono text-xs text-soft">{variant.key}</span>
                                </span>
                                {percent(variant.weight / sum)}
                            </span>
                        }
                        observed={
                            <span className="grid grid-cols-[1fr_1fr_1.3fr_1fr] gap-2 text-right" data-variant={variant.key}>
                                <span data-figure="visitors">{plural(seen.exposures.visitors, 'visitor')}</span>
                                <span>{percent(observed.visitors ? seen.exposures.visitors / observed.visitors : null)}</span>
                                <span className="text-soft">{seen.expected === null ? '–' : `expected ${count(seen.expected)}`}</span>
                                <span className="text-soft">{difference === null ? '–' : signedPercent(difference)}</span>
                            </span>
                        }
                    />
                );
            })}
            <Row
                last
                off={mismatch}
                declared={`Sample ratio mismatch is alarmed under p = ${site.srm_alpha}`}
                observed={<Verdict observed={observed} />}
            />
            {observed.epochs.length > 1 && <EpochTable experiment={experiment} observed={observed} deep={deep} />}
            {deep && observed.srm && <Arithmetic experiment={experiment} observed={observed} />}
        </>
    );
}

function Verdict({ observed }: { observed: Observations }) {
    const { srm } = observed;
    if (!srm) {
        return observed.visitors > 0 ? (
            <>One variant alone takes visitors in, so there is no split to test.</>
        ) : (
            <>No visitor has been counted, so there is nothing to test.</>
        );
    }
    const words =
        srm.verdict === 'mismatch'
            ? 'Mismatch: chance does not explain these counts. Do not read results before the cause is found.'
            : observed.can_alarm
              ? 'Balanced: the counts are what the weights give.'
              : 'Too few visitors to tell: even a lost variant would not show yet.';

    return (
        <span data-figure="srm">
            p {pValue(srm.p, srm.log_p)}, n = {count(observed.visitors)}. {words}
        </span>
    );
}

/** The test, step by step, so that it can be checked by hand. */
function Arithmetic({ experiment, observed }: Pick<Sides, 'experiment' | 'observed'>) {
    const { srm } = observed;
    if (!srm) {
        return null;
    }
    // Of several epochs, each is tested for itself.
    const parts =
        srm.test === 'chi-square-epochs'
            ? observed.epochs.map((epoch, i) => ({ before: `Epoch ${i + 1}: `, srm: epoch.srm }))
            : [{ before: '', srm }];
    const tested = parts.flatMap(
        ({ before, srm: part }) =>
            part?.observed.map((seen, i) => ({ name: `${before}${experiment.variants[i].name}`, seen, expected: part.expected[i] })) ?? [],
    );

    return (
        <div className="mt-4">
            <h3 className="mb-1 font-semibold">The arithmetic</h3>
            <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="The arithmetic">
                <table className="w-full text-right">
                    <thead className="border-b border-line text-sm text-soft">
                        <tr>
                            <th className="px-4 py-1 text-left font-normal">Variant</th>
                            <th className="px-4 font-normal">Observed O</th>
                            <th className="px-4 font-normal">Expected E</th>
                            <th className="px-4 font-normal">O − E</th>
                            <th className="px-4 font-normal">(O − E)² / E</th>
                        </tr>
                    </thead>
                    <tbody>
                        {tested.map(({ name, seen, expected }) => (
                            <tr key={name} className="border-b border-line">
                                <td className="px-4 py-1 text-left">{name}</td>
                                <td className="px-4">{count(seen)}</td>
                                <td className="px-4">{decimal(expected, 2)}</td>
                                <td className="px-4">{decimal(seen - expected, 2)}</td>
                                <td className="px-4">{expected > 0 ? decimal((seen - expected) ** 2 / expected, 3) : '–'}</td>
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
            <p className="mt-1 text-sm">
                {srm.test === 'zero-weight'
                    ? 'A variant of weight zero has visitors. No chance can do that.'
                    : srm.statistic === null
                      ? `An expected count is under 5, so the exact test decides (${srm.test}): p ${pValue(srm.p, srm.log_p)}.`
                      : srm.test === 'chi-square-epochs'
                        ? `Each epoch is tested against its own weights, and their statistics and degrees of freedom are added up: χ² = ${decimal(srm.statistic, 3)} with ${plural(srm.df ?? 0, 'degree')} of freedom; its upper tail is p ${pValue(srm.p, srm.log_p)}.`
                        : `Sum: χ² = ${decimal(srm.statistic, 3)} with ${plural(srm.df ?? 0, 'degree')} of freedom (${srm.test}); its upper tail is p ${pValue(srm.p, srm.log_p)}.`}
            </p>
        </div>
    );
}

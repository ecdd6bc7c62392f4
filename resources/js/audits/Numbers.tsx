import type { AuditFinding, ReadAudit } from '../api/audits';
import { count, decimal } from '../parts/figures';

interface Props {
    site: string;
    audit: ReadAudit;
    finding: AuditFinding;
    variants: string[];
}

/** The evidence of a finding, as a table: numbers of each variant side by side, others in a line of their own. */
export function Numbers({ finding, variants }: Props) {
    const entries = Object.entries(finding.numbers as Record<string, unknown>);
    if (entries.length === 0) {
        return <p className="mt-1 text-sm text-soft">It has no numbers beside those in its sentence.</p>;
    }
    const perVariant = entries.filter(([, value]) => isOfVariants(value, variants));
    const others = entries.filter(([, value]) => !isOfVariants(value, variants));

    return (
        <div className="mt-2 space-y-2 overflow-x-auto text-sm">
            {perVariant.length > 0 && (
                <table className="min-w-64">
                    <thead className="text-left text-soft">
                        <tr>
                            <th scope="col" className="pr-6 font-normal">
                                of each variant
                            </th>
                            {variants.map((one) => (
                                <th key={one} scope="col" className="pr-6 text-right font-mono text-xs font-normal">
                                    {one}
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {perVariant.map(([name, value]) => (
                            <tr key={name}>
                                <th scope="row" className="pr-6 text-left font-normal">
                                    {words(name)}
                                </th>
                                {(value as number[]).map((number, i) => (
                                    <td key={variants[i]} className="pr-6 text-right">
                                        {written(number)}
                                    </td>
                                ))}
                            </tr>
                        ))}
                    </tbody>
                </table>
            )}
            {others.length > 0 && (
                <dl className="grid grid-cols-[auto_1fr] gap-x-6">
                    {others.map(([name, value]) => (
                        <div key={name} className="contents">
                            <dt className="text-soft">{words(name)}</dt>
                            <dd className="min-w-0 break-words">{written(value)}</dd>
                        </div>
                    ))}
                </dl>
            )}
        </div>
    );
}

function isOfVariants(value: unknown, variants: string[]): boolean {
    return Array.isArray(value) && value.length === variants.length && value.every((one) => typeof one === 'number');
}

function words(name: string): string {
    return { log_p: 'ln p', p: 'p', q: 'q' }[name] ?? name.replaceAll('_', ' ');
}

function written(value: unknown): string {
    if (typeof value === 'number') {
        return Number.isInteger(value) && Math.abs(value) < 1e15
            ? value < 0
                ? `−${count(-value)}`
                : count(value)
            : Math.abs(value) >= 0.001
              ? decimal(value, 4).replace(/0{1,3}$/, '')
              : value.toExponential(2);
    }
    if (value === null) {
        return '–';
    }
    if (Array.isArray(value)) {
        return value.map(written).join(', ');
    }

    return typeof value === 'object'
        ? Object.entries(value)
              .map(([key, one]) => `${key}: ${written(one)}`)
              .join('; ')
        : String(value);
}

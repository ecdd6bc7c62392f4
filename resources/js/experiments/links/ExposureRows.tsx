import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { address, useSiteKey } from '../../app/address';
import { count, percent, plural } from '../../parts/figures';
import { VariantMark } from '../../parts/VariantMark';
import { changeInWords } from '../changeDraft';
import { Row } from './Row';
import type { Sides } from './Workbench';

/** What each variant changes, and how often a browser confirmed it. */
export function ExposureRows({ experiment, observed }: Sides) {
    const site = useSiteKey();

    return experiment.variants.map((variant, i) => {
        const seen = observed.variants[i];
        const exposures = seen.exposures.count;
        const applied = Math.min(seen.applied.count, exposures);
        const hasEffect = variant.target !== undefined || variant.changes.some((change) => !change.off);

        return (
            <Row
                key={variant.key}
                last={i === experiment.variants.length - 1}
                off={hasEffect && exposures > 0 && applied === 0}
                declared={
                    <div className="flex">
                        <span className="pt-0.5">
                            <VariantMark index={i} />
                        </span>
                        <div className="min-w-0">
                            {variant.name}{' '}
                            <Link
                                to={`${address.experimentView(site, experiment.key, 'preview')}?variant=${encodeURIComponent(variant.key)}`}
                                className="text-sm text-accent underline underline-offset-4"
                            >
                                Preview
                            </Link>
                            <ul className="text-sm">
                                {variant.target !== undefined ? (
                                    <li className="break-words">
                                        leads to <code className="font-mono">{variant.target}</code>
                                    </li>
                                ) : (
                                    variant.changes.length === 0 && <li className="text-soft">the page as it is</li>
                                )}
                                {variant.changes.map((change, j) => (
                                    <li key={j} className="break-words">
                                        <ChangeInWords change={change} />
                                    </li>
                                ))}
                            </ul>
                        </div>
                    </div>
                }
                observed={
                    <span data-exposures={variant.key}>
                        {plural(exposures, 'exposure')}
                        {hasEffect &&
                            exposures > 0 &&
                            (variant.target !== undefined
                                ? `; ${count(applied)} arrived (${percent(applied / exposures)})`
                                : `; all changes confirmed in ${count(applied)} (${percent(applied / exposures)}), element missing in ${count(seen.missed.count)}`)}
                        {seen.reverted.count > 0 && `, taken back by the page in ${count(seen.reverted.count)}`}
                        {seen.failed.count > 0 && `, errors in ${count(seen.failed.count)}`}
                    </span>
                }
            />
        );
    });
}

function ChangeInWords({ change }: { change: Schemas['Change'] }) {
    const words = changeInWords(change);

    return (
        <span className={change.off ? 'text-soft' : ''}>
            {change.selector && <code className="font-mono">{change.selector}</code>} {words.before}{' '}
            <code className="font-mono">{words.code}</code>
            {change.media && (
                <>
                    {' where '}
                    <code className="font-mono">{change.media}</code>
                </>
            )}
            {change.off && ' (switched off)'}
        </span>
    );
}

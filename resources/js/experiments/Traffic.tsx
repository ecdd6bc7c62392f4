import { Button } from '../parts/Button';
import { number, type Draft, type DraftVariant } from './draft';
import { even, sumMistake, toHundred, withWeight } from './weights';
import { TrafficBar } from './TrafficBar';

interface Props {
    draft: Pick<Draft, 'share' | 'variants'>;
    set: (change: Partial<Draft>) => void;
}

/** Who gets what: the whole traffic as a bar, and what to do where the weights do not make a hundred. */
export function Traffic({ draft, set }: Props) {
    const share = number(draft.share);
    const weights = draft.variants.map((variant) => number(variant.weight));
    const known = weights.every((weight) => weight >= 0) && weights.some((weight) => weight > 0);
    const mistake = sumMistake(weights);
    const put = (next: number[]): void => set({ variants: draft.variants.map((variant, i) => ({ ...variant, weight: String(next[i]) })) });

    return (
        <>
            {known && share >= 0 && share <= 100 && (
                <TrafficBar
                    share={share}
                    weights={mistake ? toHundred(weights) : weights}
                    names={draft.variants.map((variant) => variant.name || variant.key)}
                    onShare={(next) => set({ share: String(next) })}
                    onWeights={put}
                />
            )}
            <div className="flex flex-wrap items-center gap-3">
                {mistake && (
                    <>
                        <span className="text-doubt-ink">{mistake} They count as proportions.</span>
                        <Button onClick={() => put(toHundred(weights))}>Make them a hundred</Button>
                    </>
                )}
                <Button onClick={() => put(even(weights.length))}>Make even</Button>
            </div>
        </>
    );
}

/** The variants with one of them changed: of two, the weight of the other follows. */
export function followed(variants: DraftVariant[], at: number, next: DraftVariant): DraftVariant[] {
    const changed = variants.map((one, i) => (i === at ? next : one));
    const weight = number(next.weight);
    if (variants.length !== 2 || next.weight === variants[at].weight || !(weight >= 0 && weight <= 100)) {
        return changed;
    }
    const weights = withWeight(
        variants.map((variant) => number(variant.weight) || 0),
        at,
        weight,
    );

    return changed.map((one, i) => (i === at ? one : { ...one, weight: String(weights[i]) }));
}

import { unitInterval } from './hash';
import type { Experiment, Variant } from './types';

export interface Assignment {
    in: boolean;
    variant: Variant | null;
    bucket: number;
}

/** The same assignment as core/src/Assignment/Assigner.php, to the last bit. */
export function assign(experiment: Pick<Experiment, 'salt' | 'share' | 'variants' | 'group'>, unit: string): Assignment {
    const h = unitInterval(`${experiment.salt}:variant:${unit}`);
    const bucket = Math.floor(10000 * h);
    const { group, share } = experiment;
    const from = group?.from ?? 0;
    const entry = unitInterval(group ? `${group.key}:group:${unit}` : `${experiment.salt}:share:${unit}`);
    if (entry < from || entry >= from + share) {
        return { in: false, variant: null, bucket };
    }

    return { in: true, variant: experiment.variants.find((variant) => variant.end > h) ?? null, bucket };
}

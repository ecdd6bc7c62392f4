import type { LookedOver, Reach, Trial } from '../../api/experiments';
import { useAdvice, useReach } from '../../api/experiments';
import { useDebounced } from '../../parts/useDebounced';
import { requestOf, type Draft } from '../draft';

const AFTER_MS = 600;

/** What is known about a draft: its reach as it is typed, and advice on what is kept. */
export function useKnown(
    site: string,
    experiment: string,
    draft: Draft,
    errors: Record<string, string>,
    revision: number | null,
): { reach: Trial<Reach>; advice: Trial<LookedOver> } {
    const request = requestOf(draft);
    const wrong = Object.keys(errors).some((field) => /^(pages|audience)/.test(field));
    const wanted = useDebounced(
        wrong
            ? null
            : {
                  pages: request.pages as Record<string, unknown>,
                  audience: (request.audience ?? null) as Record<string, unknown> | null,
                  unit: draft.unit,
                  selector: draft.trigger?.kind === 'element' ? (draft.trigger.selector ?? null) : null,
              },
        AFTER_MS,
    );

    return { reach: useReach(site, wanted), advice: useAdvice(site, experiment, revision) };
}

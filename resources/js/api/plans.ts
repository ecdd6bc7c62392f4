import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';
import { useExperimentTrial, type Trial } from './experiments';

export type PlanDraft = Schemas['PlanDraft'];
export type PlanFollowed = Schemas['PlanFollowed'];
export type PlanBasis = Schemas['PlanBasis'];

/** The plan that is kept; null where none was made. */
export const usePlan = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['plan', site, experiment],
        queryFn: async (): Promise<PlanFollowed | null> =>
            (await answer(api.GET('/api/sites/{site}/experiments/{experiment}/plan', { params: { path: { site, experiment } } }))).kept,
    });

/** What follows from a plan that is being made; null while it cannot be read. */
export const useFollowed = (site: string, draft: PlanDraft | null) =>
    useQuery({
        queryKey: ['plan-followed', site, draft],
        queryFn: ({ signal }) =>
            answer(api.POST('/api/sites/{site}/plans', { params: { path: { site } }, body: draft as PlanDraft, signal })),
        enabled: draft !== null,
        placeholderData: draft === null ? undefined : keepPreviousData,
        staleTime: 60_000,
        retry: false,
    });

/** What the last four weeks give to plan with. */
export const useBasis = (site: string, experiment: string, revision: number, wanted: boolean): Trial<PlanBasis> =>
    useExperimentTrial<PlanBasis>(site, wanted ? [`basis ${experiment}`, revision] : null, () =>
        answer(api.POST('/api/sites/{site}/experiments/{experiment}/basis', { params: { path: { site, experiment } } })),
    );

export function useKeepPlan(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (plan: PlanDraft | null) =>
            plan === null
                ? answer(api.DELETE('/api/sites/{site}/experiments/{experiment}/plan', { params: { path: { site, experiment } } }))
                : answer(
                      api.PUT('/api/sites/{site}/experiments/{experiment}/plan', { params: { path: { site, experiment } }, body: plan }),
                  ),
        onSuccess: async () => {
            await client.invalidateQueries({ queryKey: ['plan', site, experiment] });
            await client.invalidateQueries({ queryKey: ['experiments', site, experiment] });
        },
    });
}

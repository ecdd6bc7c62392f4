import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type ExperimentDraft, type Schemas } from './client';

const WATCHED = 2000;
const GLANCED_AT = 5000;

export const useSession = () =>
    useQuery({ queryKey: ['session'], queryFn: () => answer(api.GET('/api/session')), retry: false, staleTime: Infinity });

/** What the person may do on a site (docs/openapi.yaml, Person). */
export function useRight(site: string): Schemas['Right'] {
    return useSession().data?.sites.find(({ key }) => key === site)?.right ?? 'look';
}

export const useSite = (site: string) =>
    useQuery({
        queryKey: ['site', site],
        queryFn: () => answer(api.GET('/api/sites/{site}', { params: { path: { site } } })),
        staleTime: 60_000,
    });

export const useExperiments = (site: string) =>
    useQuery({
        queryKey: ['experiments', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/experiments', { params: { path: { site } } })),
    });

export const usePeople = (site: string) =>
    useQuery({ queryKey: ['people', site], queryFn: () => answer(api.GET('/api/sites/{site}/people', { params: { path: { site } } })) });

export const useChains = (site: string) =>
    useQuery({
        queryKey: ['chains', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/chains', { params: { path: { site } } })),
        refetchInterval: GLANCED_AT,
    });

export const useObservations = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['observations', site, experiment],
        queryFn: () =>
            answer(api.GET('/api/sites/{site}/experiments/{experiment}/observations', { params: { path: { site, experiment } } })),
        refetchInterval: WATCHED,
    });

export function useSignOut() {
    const client = useQueryClient();

    return useMutation({ mutationFn: () => answer(api.DELETE('/api/session')), onSettled: () => client.clear() });
}

/** A file goes as it is, with what else was asked for. */
interface InspectedFile {
    archive: File;
    policy: string | null;
    guard: boolean | null;
}

/** Inspects a page or a capture, or every page of a zip file; always a list of reports. */
export function useInspection(site: string) {
    return useMutation({
        mutationFn: async (body: Schemas['InspectionRequest'] | InspectedFile): Promise<Schemas['Report'][]> => {
            if (!('archive' in body)) {
                return [await answer(api.POST('/api/sites/{site}/inspections', { params: { path: { site } }, body }))];
            }
            const form = new FormData();
            form.append('archive', body.archive);
            if (body.policy !== null) {
                form.append('policy', body.policy);
            }
            if (body.guard !== null) {
                form.append('guard', String(body.guard));
            }

            return answer(
                api.POST('/api/sites/{site}/inspections/archive', {
                    params: { path: { site } },
                    body: body as never,
                    bodySerializer: () => form,
                }),
            );
        },
    });
}

export function useSaveExperiment(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: ExperimentDraft) => answer(api.POST('/api/sites/{site}/experiments', { params: { path: { site } }, body })),
        onSuccess: () => client.invalidateQueries(),
    });
}

export function useDeleteExperiment(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: () => answer(api.DELETE('/api/sites/{site}/experiments/{experiment}', { params: { path: { site, experiment } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['experiments', site], exact: true }),
    });
}

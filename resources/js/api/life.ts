import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type ExperimentDraft, type Schemas } from './client';
import { useExperimentTrial, type Trial } from './experiments';

const GLANCED_AT = 10_000;

export type ReadyList = Schemas['ReadyList'];
export type ReadyPoint = Schemas['ReadyPoint'];
export type LogbookEntry = Schemas['LogbookEntry'];
export type Publication = Schemas['Publication'];

interface Move {
    action: Schemas['Action'];
    reason?: string;
    keep?: string | null;
}

export function useMoveExperiment(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: Move) =>
            answer(api.POST('/api/sites/{site}/experiments/{experiment}/stage', { params: { path: { site, experiment } }, body })),
        onSuccess: () => client.invalidateQueries(),
    });
}

export function useTimetable(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { start: string | null; end: string | null; end_visitors: number | null }) =>
            answer(api.PUT('/api/sites/{site}/experiments/{experiment}/timetable', { params: { path: { site, experiment } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['experiments', site] }),
    });
}

export function useServe(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (variant: string | null) =>
            answer(
                api.PUT('/api/sites/{site}/experiments/{experiment}/kept', { params: { path: { site, experiment } }, body: { variant } }),
            ),
        onSuccess: () => client.invalidateQueries(),
    });
}

export function useDuplicate(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (revision: number | null) =>
            answer(
                api.POST('/api/sites/{site}/experiments/{experiment}/copies', {
                    params: { path: { site, experiment } },
                    body: { revision },
                }),
            ),
        onSuccess: () => client.invalidateQueries({ queryKey: ['experiments', site] }),
    });
}

export function useRestore(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (experiment: string) =>
            answer(api.POST('/api/sites/{site}/experiments/{experiment}/restored', { params: { path: { site, experiment } } })),
        onSuccess: () => client.invalidateQueries(),
    });
}

/** The points of an experiment's ready list, looked through in the background; anew for each state, and when asked. */
export const useReady = (site: string, experiment: string, revision: number, round: number, wanted = true): Trial<ReadyList> =>
    useExperimentTrial<ReadyList>(site, wanted ? [`ready ${experiment}`, revision, round] : null, () =>
        answer(api.POST('/api/sites/{site}/experiments/{experiment}/ready', { params: { path: { site, experiment } } })),
    );

/** What a change of an experiment that runs would do to its analysis. */
export const useChangePreview = (site: string, experiment: string, draft: ExperimentDraft | null) =>
    useQuery({
        queryKey: ['change-preview', site, experiment, draft],
        queryFn: ({ signal }) =>
            answer(
                api.POST('/api/sites/{site}/experiments/{experiment}/change-preview', {
                    params: { path: { site, experiment } },
                    body: draft as ExperimentDraft,
                    signal,
                }),
            ),
        enabled: draft !== null,
        retry: false,
        staleTime: 10_000,
    });

export const useRevisions = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['experiments', site, experiment, 'revisions'],
        queryFn: () => answer(api.GET('/api/sites/{site}/experiments/{experiment}/revisions', { params: { path: { site, experiment } } })),
    });

/** The file that pages get now. */
export const usePublished = (site: string) =>
    useQuery({
        queryKey: ['published', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/published', { params: { path: { site } } })),
        refetchInterval: GLANCED_AT,
    });

export const usePublications = (site: string) =>
    useQuery({
        queryKey: ['publications', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/publications', { params: { path: { site } } })),
        refetchInterval: GLANCED_AT,
    });

/** Puts an earlier one back by its number, or publishes what is declared now (null). */
export function usePutBack(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (number: number | null) =>
            number === null
                ? answer(api.POST('/api/sites/{site}/publications', { params: { path: { site } } }))
                : answer(api.POST('/api/sites/{site}/publications/{number}/restore', { params: { path: { site, number } } })),
        onSuccess: (published) => client.setQueryData(['publications', site], published),
    });
}

export interface LogbookFilters {
    thing?: Schemas['LogbookThing'];
    key?: string;
    person?: string;
    from?: string;
    to?: string;
}

export const useLogbook = (site: string, filters: LogbookFilters) =>
    useInfiniteQuery({
        queryKey: ['logbook', site, filters],
        queryFn: ({ pageParam }) =>
            answer(
                api.GET('/api/sites/{site}/logbook', {
                    params: { path: { site }, query: { ...filters, ...(pageParam === null ? {} : { before: pageParam }) } },
                }),
            ),
        initialPageParam: null as number | null,
        getNextPageParam: (last) => last.next,
    });

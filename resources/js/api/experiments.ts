import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Experiment, type ExperimentDraft, type Schemas } from './client';

const TRIAL_AT = 500;
/** What somebody does on the page, or another person here, is seen within two seconds. */
const DRAFT_AT = 1000;
/** It starts by itself. */
const WATCHED_AT = 5000;

export type Reach = Schemas['Reach'];
export type LookedOver = Schemas['LookedOver'];

export interface KeptAnswer {
    experiment: Experiment;
    problems: Record<string, string[]>;
}

/** Keeps a draft as it is written; refused (412) where somebody else has changed it since that revision. */
export const keepDraft = (site: string, experiment: string, revision: number, body: ExperimentDraft): Promise<KeptAnswer> =>
    answer(
        api.PUT('/api/sites/{site}/experiments/{experiment}/draft', {
            params: { path: { site, experiment }, header: { 'If-Match': `"${revision}"` } },
            body: body as unknown as Schemas['WrittenExperiment'],
            // Also where the page is just being left.
            keepalive: JSON.stringify(body).length < 60_000,
        }),
    );

/** Changes an experiment that has started, as a whole. */
export const changeExperiment = (site: string, experiment: string, revision: number, body: ExperimentDraft): Promise<Experiment> =>
    answer(
        api.PUT('/api/sites/{site}/experiments/{experiment}', {
            params: { path: { site, experiment }, header: { 'If-Match': `"${revision}"` } },
            body,
        }),
    );

/** An experiment that others may be changing at this moment. */
export const useWatchedExperiment = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['experiments', site, experiment],
        queryFn: () => answer(api.GET('/api/sites/{site}/experiments/{experiment}', { params: { path: { site, experiment } } })),
        refetchInterval: (query) =>
            query.state.data?.state === 'draft' ? DRAFT_AT : query.state.data?.state === 'scheduled' ? WATCHED_AT : false,
    });

export interface Trial<T> {
    result: T | null;
    isRunning: boolean;
    done: number;
    total: number;
    error: Error | null;
    failed: boolean;
}

/** Begins a trial once for each key, and asks after it until it is done; the last result stays until there is another. */
export function useExperimentTrial<T>(site: string, key: unknown[] | null, begin: () => Promise<Schemas['ExperimentTrial']>): Trial<T> {
    const begun = useQuery({
        queryKey: ['trial-begun', site, ...(key ?? [])],
        queryFn: begin,
        enabled: key !== null,
        staleTime: 5 * 60_000,
        retry: false,
        refetchOnWindowFocus: false,
    });
    const id = key === null ? undefined : begun.data?.id;
    const run = useQuery({
        queryKey: ['experiment-trial', site, id],
        queryFn: ({ signal }) =>
            answer(api.GET('/api/sites/{site}/experiment-trials/{trial}', { params: { path: { site, trial: id ?? 0 } }, signal })),
        enabled: id !== undefined,
        placeholderData: keepPreviousData,
        refetchInterval: (query) => (query.state.data?.state === 'running' ? TRIAL_AT : false),
    });
    const isOwn = run.data !== undefined && run.data.id === id && !run.isPlaceholderData;
    const client = useQueryClient();
    const shown = run.data?.result ?? null;
    // While one is under way, the figures of the one before it stay.
    const last = client.getQueryData<T>(['trial-last', site, key?.[0]]);
    if (shown && isOwn && shown !== (last as unknown)) {
        client.setQueryData(['trial-last', site, key?.[0]], shown);
    }

    return {
        result: (shown as T | null) ?? last ?? null,
        isRunning: key !== null && !begun.error && !run.error && !(isOwn && run.data?.state !== 'running'),
        done: run.data?.done ?? 0,
        total: run.data?.total ?? 0,
        error: begun.error ?? (run.error && !run.data ? run.error : null),
        failed: isOwn && run.data?.state === 'failed',
    };
}

export interface ReachWanted {
    pages: Record<string, unknown>;
    audience: Record<string, unknown> | null;
    unit: 'visitor' | 'user';
    selector: string | null;
}

/** The pages and visitors of the last four weeks that an experiment would be for; null while its rules cannot be read. */
export const useReach = (site: string, wanted: ReachWanted | null): Trial<Reach> =>
    useExperimentTrial<Reach>(site, wanted && ['reach', JSON.stringify(wanted)], () =>
        answer(
            api.POST('/api/sites/{site}/reach', {
                params: { path: { site } },
                body: wanted as never,
            }),
        ),
    );

/** What is worth a second look in what is kept of an experiment. */
export const useAdvice = (site: string, experiment: string, revision: number | null): Trial<LookedOver> =>
    useExperimentTrial<LookedOver>(site, revision === null ? null : [`advice ${experiment}`, revision], () =>
        answer(api.POST('/api/sites/{site}/experiments/{experiment}/advice', { params: { path: { site, experiment } } })),
    );

export type Visitor = Schemas['DescribedVisitor'];

export function useTrace(site: string) {
    return useMutation({
        mutationFn: (body: { pages: Record<string, unknown>; audience: Record<string, unknown> | null; visitors: Visitor[] }) =>
            answer(api.POST('/api/sites/{site}/entry-traces', { params: { path: { site } }, body: body as never })),
    });
}

export const useNaming = (site: string, name: string, path: string) =>
    useQuery({
        queryKey: ['naming', site, name, path],
        queryFn: () => answer(api.GET('/api/sites/{site}/naming', { params: { path: { site }, query: { name, path } } })),
        placeholderData: keepPreviousData,
        staleTime: 60_000,
    });

export function useChangeNaming(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (pattern: string) =>
            answer(api.PUT('/api/sites/{site}/naming', { params: { path: { site } }, body: { pattern: pattern.trim() || null } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['naming', site] }),
    });
}

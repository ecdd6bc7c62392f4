import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';
import { useChange } from './change';

const AT = 5000;
const TRIAL_AT = 300;

const path = (site: string) => ({ params: { path: { site } } });

export const useGoals = (site: string) =>
    useQuery({ queryKey: ['goals', site], queryFn: () => answer(api.GET('/api/sites/{site}/goals', path(site))), refetchInterval: AT * 2 });

export const useGoal = (site: string, goal: string) =>
    useQuery({
        queryKey: ['goals', site, goal],
        queryFn: () => answer(api.GET('/api/sites/{site}/goals/{goal}', { params: { path: { site, goal } } })),
        enabled: goal !== 'new',
    });

export function useSaveGoal(site: string, existing?: string) {
    return useChange(['goals'], (body: Schemas['GoalDraft']) =>
        existing
            ? answer(api.PUT('/api/sites/{site}/goals/{goal}', { params: { path: { site, goal: existing } }, body }))
            : answer(api.POST('/api/sites/{site}/goals', { ...path(site), body })),
    );
}

export const useDeleteGoal = (site: string, goal: string) =>
    useChange(['goals'], () => answer(api.DELETE('/api/sites/{site}/goals/{goal}', { params: { path: { site, goal } } })));

/** Tries a goal while it is being written: the trial runs in the background, and is asked after until it is done. */
export function useTrial(site: string) {
    const begin = useMutation({
        mutationFn: (body: Schemas['GoalDraft']) => answer(api.POST('/api/sites/{site}/goals/trial', { ...path(site), body })),
    });
    const id = begin.data?.id;
    const run = useQuery({
        queryKey: ['trial', site, id],
        queryFn: ({ signal }) =>
            answer(api.GET('/api/sites/{site}/goals/trials/{trial}', { params: { path: { site, trial: id ?? 0 } }, signal })),
        enabled: id !== undefined,
        // The last result stays until there is another.
        placeholderData: keepPreviousData,
        refetchInterval: (query) => (query.state.data?.state === 'running' ? TRIAL_AT : false),
    });

    return { begin, run };
}

export const useEvents = (site: string) =>
    useQuery({
        queryKey: ['events', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/events', path(site))),
        refetchInterval: AT * 2,
    });

export const useEvent = (site: string, name: string) =>
    useQuery({
        queryKey: ['events', site, name],
        queryFn: () => answer(api.GET('/api/sites/{site}/events/{name}', { params: { path: { site, name } } })),
    });

export const useSavePlan = (site: string, name: string) =>
    useChange(['events'], (body: Schemas['EventPlan']) =>
        answer(api.PUT('/api/sites/{site}/events/{name}', { params: { path: { site, name } }, body })),
    );

export const useUnplan = (site: string, name: string) =>
    useChange(['events'], () => answer(api.DELETE('/api/sites/{site}/events/{name}', { params: { path: { site, name } } })));

export const useImportPlan = (site: string) =>
    useChange(['events'], (plan: string) => answer(api.POST('/api/sites/{site}/plan', { ...path(site), body: { plan } })));

export const useStory = (site: string, event: string) =>
    useQuery({
        queryKey: ['story', site, event],
        queryFn: () => answer(api.GET('/api/sites/{site}/feed/{event}', { params: { path: { site, event } } })),
        staleTime: AT,
    });

export const useCapture = (site: string) =>
    useQuery({ queryKey: ['capture', site], queryFn: () => answer(api.GET('/api/sites/{site}/capture', path(site))) });

export function useSaveCapture(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: Schemas['Capture']) => answer(api.PUT('/api/sites/{site}/capture', { ...path(site), body })),
        onSuccess: (kept) => {
            client.setQueryData(['capture', site], kept);

            return client.invalidateQueries({ queryKey: ['site-settings', site] });
        },
    });
}

export interface FeedFilters {
    page?: string;
    event?: string;
    experiment?: string;
    variant?: string;
    visitor?: string;
    mine?: string;
    rehearsal?: string;
    preview?: string;
    own?: string;
}

export const readFeed = (site: string, filters: FeedFilters, after: number, afterRejected: number, signal: AbortSignal) =>
    answer(
        api.GET('/api/sites/{site}/feed', {
            params: { path: { site }, query: { ...filters, after, after_rejected: afterRejected } },
            signal,
        }),
    );

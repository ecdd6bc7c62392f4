import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type ReadReadout = Schemas['ReadReadout'];
export type Readout = Schemas['Readout'];
export type ReadoutGoal = Schemas['ReadoutGoal'];
export type ReadoutVariant = Schemas['ReadoutVariant'];
export type DecisionRule = Schemas['DecisionRule'];
export type Decision = Schemas['Decision'];

const path = (site: string, experiment: string) => ({ params: { path: { site, experiment } } });
const key = (site: string, experiment: string): string[] => ['readout', site, experiment];

/** What an experiment says; looked at again while it may change. */
export const useReadout = (site: string, experiment: string) =>
    useQuery({
        queryKey: key(site, experiment),
        queryFn: () => answer(api.GET('/api/sites/{site}/experiments/{experiment}/readout', path(site, experiment))),
        refetchInterval: 10_000,
    });

/** Lifts the cover, for a reason; or puts it back, for null. */
export function useCover(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (reason: string | null) =>
            reason === null
                ? answer(api.DELETE('/api/sites/{site}/experiments/{experiment}/readout/cover', path(site, experiment)))
                : answer(
                      api.POST('/api/sites/{site}/experiments/{experiment}/readout/cover', { ...path(site, experiment), body: { reason } }),
                  ),
        onSuccess: (read) => client.setQueryData(key(site, experiment), read),
    });
}

export function useDecide(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { choice: string; because: string; learned: string | null; serves: boolean }) =>
            answer(api.POST('/api/sites/{site}/experiments/{experiment}/decisions', { ...path(site, experiment), body })),
        onSuccess: () =>
            Promise.all([
                client.invalidateQueries({ queryKey: key(site, experiment) }),
                client.invalidateQueries({ queryKey: ['experiments', site] }),
                client.invalidateQueries({ queryKey: ['decisions', site] }),
            ]),
    });
}

export function useKeepRule(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (rule: DecisionRule | null) =>
            answer(api.PUT('/api/sites/{site}/experiments/{experiment}/decision-rule', { ...path(site, experiment), body: { rule } })),
        onSuccess: () =>
            Promise.all([
                client.invalidateQueries({ queryKey: key(site, experiment) }),
                client.invalidateQueries({ queryKey: ['experiments', site, experiment] }),
            ]),
    });
}

/** What was decided on a site, and learned. */
export const useDecisions = (site: string, search: string) =>
    useQuery({
        queryKey: ['decisions', site, search],
        queryFn: () => answer(api.GET('/api/sites/{site}/decisions', { params: { path: { site }, query: search ? { search } : {} } })),
        placeholderData: (before) => before,
    });

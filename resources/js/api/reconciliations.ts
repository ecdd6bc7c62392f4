import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type Reconciliation = Schemas['Reconciliation'];
export type ReadReconciliation = Schemas['ReadReconciliation'];
export type ReconciliationResult = Schemas['ReconciliationResult'];
export type ReconciliationRow = Schemas['ReconciliationRow'];

const WATCHED_EVERY = 1000;

const isUnderWay = ({ state }: Pick<Reconciliation, 'state'>): boolean => state === 'waiting' || state === 'running';

export const useReconciliations = (site: string) =>
    useQuery({
        queryKey: ['reconciliations', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/reconciliations', { params: { path: { site } } })),
        refetchInterval: ({ state }) => ((state.data ?? []).some(isUnderWay) ? WATCHED_EVERY : false),
    });

export const useReconciliation = (site: string, reconciliation: number) =>
    useQuery({
        queryKey: ['reconciliation', site, reconciliation],
        queryFn: () =>
            answer(api.GET('/api/sites/{site}/reconciliations/{reconciliation}', { params: { path: { site, reconciliation } } })),
        refetchInterval: ({ state }) => (state.data && isUnderWay(state.data) ? WATCHED_EVERY : false),
    });

/** What is asked, and the file that comes with it. */
export interface ReconcileBody {
    file: File;
    experiment?: string;
    log?: number;
    mapping?: string;
    tolerance?: string;
    window?: string;
    goal?: string;
}

export function useReconcile(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: ReconcileBody) => {
            const form = new FormData();
            for (const [name, value] of Object.entries(body)) {
                if (value !== undefined && value !== '') {
                    form.append(name, value instanceof File ? value : `${value}`);
                }
            }

            return answer(
                api.POST('/api/sites/{site}/reconciliations', {
                    params: { path: { site } },
                    body: form as never,
                    bodySerializer: (sent) => sent as never,
                }),
            );
        },
        onSuccess: () => client.invalidateQueries({ queryKey: ['reconciliations', site] }),
    });
}

export function useForgetReconciliation(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (reconciliation: number) =>
            answer(api.DELETE('/api/sites/{site}/reconciliations/{reconciliation}', { params: { path: { site, reconciliation } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['reconciliations', site] }),
    });
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type Rehearsal = Schemas['Rehearsal'];
export type RehearsalReport = Schemas['RehearsalReport'];
export type RehearsalFinding = Schemas['RehearsalFinding'];
export type RehearsalScript = Schemas['RehearsalScript'];

const WATCHED_EVERY = 1000;

export const isUnderWay = ({ state }: Pick<Rehearsal, 'state'>): boolean => state === 'waiting' || state === 'running';

/** The newest rehearsals of an experiment; looked at again while one is under way. */
export const useRehearsals = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['rehearsals', site, experiment],
        queryFn: () => answer(api.GET('/api/sites/{site}/experiments/{experiment}/rehearsals', { params: { path: { site, experiment } } })),
        refetchInterval: ({ state }) => ((state.data ?? []).some(isUnderWay) ? 2 * WATCHED_EVERY : false),
    });

export const useRehearsal = (site: string, run: number | null) =>
    useQuery({
        queryKey: ['rehearsal', site, run],
        queryFn: () =>
            answer(api.GET('/api/sites/{site}/rehearsals/{rehearsal}', { params: { path: { site, rehearsal: run as number } } })),
        enabled: run !== null,
        refetchInterval: ({ state }) => (state.data && isUnderWay(state.data) ? WATCHED_EVERY : false),
    });

export const useDifferences = (site: string, run: number, other: number | null) =>
    useQuery({
        queryKey: ['rehearsal-differences', site, run, other],
        queryFn: () =>
            answer(
                api.GET('/api/sites/{site}/rehearsals/{rehearsal}/since/{other}', {
                    params: { path: { site, rehearsal: run, other: other as number } },
                }),
            ),
        enabled: other !== null,
    });

export function useRehearse(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { variants: string[]; screens: Schemas['RehearsalScreen'][] }) =>
            answer(api.POST('/api/sites/{site}/experiments/{experiment}/rehearsals', { params: { path: { site, experiment } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['rehearsals', site, experiment] }),
    });
}

export function useCancelRehearsal(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (rehearsal: number) =>
            answer(api.DELETE('/api/sites/{site}/rehearsals/{rehearsal}', { params: { path: { site, rehearsal } } })),
        onSuccess: async () => {
            await client.invalidateQueries({ queryKey: ['rehearsals', site] });
            await client.invalidateQueries({ queryKey: ['rehearsal', site] });
        },
    });
}

export const fetchScript = (site: string, experiment: string) =>
    answer(api.GET('/api/sites/{site}/experiments/{experiment}/rehearsal-script', { params: { path: { site, experiment } } }));

export const useScript = (site: string, experiment: string) =>
    useQuery({ queryKey: ['rehearsal-script', site, experiment], queryFn: () => fetchScript(site, experiment) });

/** Keeps a script; null has it follow from the experiment again. */
export function useKeepScript(site: string, experiment: string) {
    const client = useQueryClient();
    const path = { site, experiment };

    return useMutation({
        mutationFn: (body: RehearsalScript | null) =>
            body === null
                ? answer(api.DELETE('/api/sites/{site}/experiments/{experiment}/rehearsal-script', { params: { path } }))
                : answer(api.PUT('/api/sites/{site}/experiments/{experiment}/rehearsal-script', { params: { path }, body })),
        onSuccess: (kept) => client.setQueryData(['rehearsal-script', site, experiment], kept),
    });
}

export const useRehearsalPlan = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['rehearsal-plan', site, experiment],
        queryFn: () =>
            answer(api.GET('/api/sites/{site}/experiments/{experiment}/rehearsal-plan', { params: { path: { site, experiment } } })),
    });

export function useKeepRehearsalPlan(site: string, experiment: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: Schemas['RehearsalPlan']) =>
            answer(api.PUT('/api/sites/{site}/experiments/{experiment}/rehearsal-plan', { params: { path: { site, experiment } }, body })),
        onSuccess: (kept) => client.setQueryData(['rehearsal-plan', site, experiment], kept),
    });
}

/** Rehearsals of a whole site's installation, on which nothing is tested. */
export const useInstallations = (site: string) =>
    useQuery({
        queryKey: ['rehearsals', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/rehearsals', { params: { path: { site } } })),
        refetchInterval: ({ state }) => ((state.data ?? []).some(isUnderWay) ? 2 * WATCHED_EVERY : false),
    });

export function useRehearseInstallation(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: () => answer(api.POST('/api/sites/{site}/rehearsals', { params: { path: { site } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['rehearsals', site] }),
    });
}

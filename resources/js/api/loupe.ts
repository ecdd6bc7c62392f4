import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type LoupeLink = Schemas['LoupeLink'];

export interface LinkAsked {
    purpose: LoupeLink['purpose'];
    experiment: string | null;
    variant: string | null;
    url: string;
    recipient: string | null;
    hours: number;
}

const AGAIN_MS = 20_000;

/** The newest links to the Loupe, of one experiment; looked at again, since somebody may be using one. */
export const useLoupeLinks = (site: string, experiment: string) =>
    useQuery({
        queryKey: ['loupe-links', site, experiment],
        queryFn: () => answer(api.GET('/api/sites/{site}/loupe-links', { params: { path: { site }, query: { experiment } } })),
        refetchInterval: AGAIN_MS,
    });

export function useMakeLoupeLink(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: LinkAsked) => answer(api.POST('/api/sites/{site}/loupe-links', { params: { path: { site } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['loupe-links', site] }),
    });
}

export function useRevokeLoupeLink(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (link: number) => answer(api.DELETE('/api/sites/{site}/loupe-links/{link}', { params: { path: { site, link } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['loupe-links', site] }),
    });
}

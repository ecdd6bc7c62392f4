import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Refused } from './asking';
import { answer, api, Problem, type Schemas } from './client';
import { request } from './raw';

export type PublishRequest = Schemas['PublishRequest'];

const GLANCED_AT = 20_000;

export const usePublishRequests = (site: string) =>
    useQuery({
        queryKey: ['requests', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/requests', { params: { path: { site } } })),
        refetchInterval: GLANCED_AT,
    });

export function useAsk() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: ({ site, method, path, body, note }: Refused & { note: string }) =>
            answer(api.POST('/api/sites/{site}/requests', { params: { path: { site } }, body: { method, path, body, note } })),
        onSuccess: (_, { site }) => client.invalidateQueries({ queryKey: ['requests', site] }),
    });
}

/** Agrees: sends what was asked for, as it is, with the number of the request. */
export function useAgree(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: async ({ id, method, path, body }: PublishRequest): Promise<void> => {
            const response = await request(method, `/api/sites/${site}/${path}`, body, { 'Pellix-Request': `${id}` });
            if (!response.ok) {
                const { message, errors } = (await response.json().catch(() => ({}))) as {
                    message?: string;
                    errors?: Record<string, string[]>;
                };
                throw new Problem(response.status, message ?? `The server answered ${response.status}.`, errors);
            }
        },
        onSuccess: () => client.invalidateQueries(),
    });
}

export function useRefuse(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: ({ id, answer: said }: { id: number; answer: string }) =>
            answer(
                api.DELETE('/api/sites/{site}/requests/{publishRequest}', {
                    params: { path: { site, publishRequest: id } },
                    body: { answer: said },
                }),
            ),
        onSuccess: () => client.invalidateQueries({ queryKey: ['requests', site] }),
    });
}

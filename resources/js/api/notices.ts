import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type NoticeSetting = Schemas['NoticeSetting'];
export type NoticeSettings = Schemas['NoticeSettings'];
export type Webhook = Schemas['Webhook'];
export type Delivery = Schemas['Delivery'];
export type Wish = Schemas['Wish'];

const WATCHED_EVERY = 1500;
const LOOKED_EVERY = 30_000;

export const useNoticeSettings = (site: string) =>
    useQuery({
        queryKey: ['notice-settings', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/notice-settings', { params: { path: { site } } })),
    });

export type SettingBody = Pick<NoticeSetting, 'wish' | 'digest' | 'quiet_from' | 'quiet_to'>;

/** One's own settings; those of somebody else by number. */
export function useKeepNoticeSetting(site: string, person?: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: SettingBody) =>
            person === undefined
                ? answer(api.PUT('/api/sites/{site}/notice-settings', { params: { path: { site } }, body }))
                : answer(api.PUT('/api/sites/{site}/notice-settings/{person}', { params: { path: { site, person } }, body })),
        onSuccess: (settings) => client.setQueryData(['notice-settings', site], settings),
    });
}

/** What was told, or is on its way; looked at often while something is about to be told. */
export const useDeliveries = (site: string) =>
    useQuery({
        queryKey: ['deliveries', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/deliveries', { params: { path: { site } } })),
        refetchInterval: ({ state }) => ((state.data ?? []).some(isAboutToBeTold) ? WATCHED_EVERY : LOOKED_EVERY),
    });

export const isAboutToBeTold = ({ state, next }: Pick<Delivery, 'state' | 'next'>): boolean =>
    state === 'waiting' && next !== null && Date.parse(next) - Date.now() < 5_000;

const told = (client: QueryClient, site: string): Promise<void> => client.invalidateQueries({ queryKey: ['deliveries', site] });

export function useTestMail(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: () => answer(api.POST('/api/sites/{site}/notice-settings/test', { params: { path: { site } } })),
        onSuccess: () => told(client, site),
    });
}

export function useTellAgain(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (delivery: number) =>
            answer(api.POST('/api/sites/{site}/deliveries/{delivery}/again', { params: { path: { site, delivery } } })),
        onSuccess: () => told(client, site),
    });
}

export const useWebhooks = (site: string, enabled: boolean) =>
    useQuery({
        queryKey: ['webhooks', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/webhooks', { params: { path: { site } } })),
        enabled,
    });

export type WebhookBody = Pick<Webhook, 'name' | 'url' | 'wish' | 'digest' | 'active'>;

/** Keeps a webhook, a new one without a number. */
export function useKeepWebhook(site: string, webhook?: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: WebhookBody) =>
            webhook === undefined
                ? answer(api.POST('/api/sites/{site}/webhooks', { params: { path: { site } }, body }))
                : answer(api.PUT('/api/sites/{site}/webhooks/{webhook}', { params: { path: { site, webhook } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['webhooks', site] }),
    });
}

export const useWebhookSecret = (site: string) =>
    useMutation({
        mutationFn: (webhook: number) =>
            answer(api.POST('/api/sites/{site}/webhooks/{webhook}/secret', { params: { path: { site, webhook } } })),
    });

export function useTestWebhook(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (webhook: number) =>
            answer(api.POST('/api/sites/{site}/webhooks/{webhook}/test', { params: { path: { site, webhook } } })),
        onSuccess: () => told(client, site),
    });
}

export function useDeleteWebhook(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (webhook: number) =>
            answer(api.DELETE('/api/sites/{site}/webhooks/{webhook}', { params: { path: { site, webhook } } })),
        onSuccess: async () => {
            await client.invalidateQueries({ queryKey: ['webhooks', site] });
            await told(client, site);
        },
    });
}

export const useKeptMails = (site: string) =>
    useQuery({
        queryKey: ['mails', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/mails', { params: { path: { site } } })),
        refetchInterval: LOOKED_EVERY,
    });

export const useKeptMail = (site: string, mail: number | null) =>
    useQuery({
        queryKey: ['mail', site, mail],
        queryFn: () => answer(api.GET('/api/sites/{site}/mails/{mail}', { params: { path: { site, mail: mail ?? 0 } } })),
        enabled: mail !== null,
        staleTime: Infinity,
    });

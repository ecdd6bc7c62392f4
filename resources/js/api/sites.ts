import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type SiteDraft = Schemas['SiteDraft'];
export type SiteSettings = Schemas['SiteSettings'];

const LOOKED_AT = 3000;

export const useBegin = () =>
    useQuery({ queryKey: ['begin'], queryFn: () => answer(api.GET('/api/begin')), staleTime: Infinity, retry: false });

export function useMakeFirst() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { code: string; name: string; email: string; password: string }) => answer(api.POST('/api/begin', { body })),
        onSuccess: (person) => client.setQueryData(['session'], person),
    });
}

export const useCheckHosts = () =>
    useMutation({ mutationFn: (hosts: string[]) => answer(api.POST('/api/host-checks', { body: { hosts } })) });

export function useMakeSite() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: SiteDraft) => answer(api.POST('/api/sites', { body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['session'] }),
    });
}

export const useSiteSettings = (site: string) =>
    useQuery({
        queryKey: ['site-settings', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/settings', { params: { path: { site } } })),
    });

export function useKeepSettings(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: SiteDraft) => answer(api.PUT('/api/sites/{site}/settings', { params: { path: { site } }, body })),
        onSuccess: (kept) => {
            client.setQueryData(['site-settings', site], kept);

            return Promise.all([['site', site], ['session']].map((queryKey) => client.invalidateQueries({ queryKey })));
        },
    });
}

export function useArchive(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (isArchived: boolean) =>
            isArchived
                ? answer(api.PUT('/api/sites/{site}/archived', { params: { path: { site } } }))
                : answer(api.DELETE('/api/sites/{site}/archived', { params: { path: { site } } })),
        onSuccess: () => Promise.all([['site-settings', site], ['session']].map((queryKey) => client.invalidateQueries({ queryKey }))),
    });
}

export function useDeleteSite(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (name: string) => answer(api.DELETE('/api/sites/{site}', { params: { path: { site } }, body: { name } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['session'] }),
    });
}

/** Looked at again and again: evidence arrives while somebody waits for it. */
export const useFirstSteps = (site: string) =>
    useQuery({
        queryKey: ['first-steps', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/first-steps', { params: { path: { site } } })),
        refetchInterval: LOOKED_AT,
    });

/** Adds a page to those that are known, and inspects it at once. */
export function useProvePage(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (url: string) => answer(api.POST('/api/sites/{site}/first-steps/page', { params: { path: { site } }, body: { url } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['first-steps', site] }),
    });
}

export type SiteKeys = Schemas['SiteKeys'];
export type InternalTraffic = Schemas['InternalTraffic'];
export type InternalRules = Schemas['InternalRules'];

export const useSiteKeys = (site: string) =>
    useQuery({ queryKey: ['site-keys', site], queryFn: () => answer(api.GET('/api/sites/{site}/keys', { params: { path: { site } } })) });

export function useReplaceKey(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (days: number) => answer(api.POST('/api/sites/{site}/keys', { params: { path: { site } }, body: { days } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['session'] }),
    });
}

export function useEndKey(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: ({ key, days }: { key: string; days: number }) =>
            answer(api.PUT('/api/sites/{site}/keys/{key}', { params: { path: { site, key } }, body: { days } })),
        onSuccess: (kept) => client.setQueryData(['site-keys', site], kept),
    });
}

export const useInternalTraffic = (site: string) =>
    useQuery({
        queryKey: ['internal-traffic', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/internal-traffic', { params: { path: { site } } })),
    });

/** What changes the rules answers with them. */
function useRulesChange<T>(site: string, send: (given: T) => Promise<InternalTraffic>) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: send,
        onSuccess: (kept) => {
            client.setQueryData(['internal-traffic', site], kept);

            return client.invalidateQueries({ queryKey: ['site-settings', site] });
        },
    });
}

export const useKeepInternal = (site: string) =>
    useRulesChange(site, (body: InternalRules) =>
        answer(api.PUT('/api/sites/{site}/internal-traffic', { params: { path: { site } }, body })),
    );

export const useMakeMark = (site: string) =>
    useRulesChange(site, (name: string) =>
        answer(api.POST('/api/sites/{site}/internal-traffic/marks', { params: { path: { site } }, body: { name } })),
    );

export const useTakeMark = (site: string) =>
    useRulesChange(site, (token: string) =>
        answer(api.DELETE('/api/sites/{site}/internal-traffic/marks/{token}', { params: { path: { site, token } } })),
    );

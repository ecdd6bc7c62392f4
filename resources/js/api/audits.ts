import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type Audit = Schemas['Audit'];
export type ReadAudit = Schemas['ReadAudit'];
export type AuditRead = NonNullable<ReadAudit['read']>;
export type AuditFinding = Schemas['AuditFinding'];
export type AuditViews = Schemas['AuditViews'];
export type AuditLog = Schemas['AuditLog'];
export type ReadAuditLog = Schemas['ReadAuditLog'];

const WATCHED_EVERY = 1000;

export const isUnderWay = ({ state }: Pick<Audit, 'state'>): boolean => state === 'waiting' || state === 'running';

/** Audits of a site, or of one experiment; looked at again while one is under way. */
export const useAudits = (site: string, experiment?: string) =>
    useQuery({
        queryKey: ['audits', site, experiment ?? null],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits', { params: { path: { site }, query: experiment ? { experiment } : {} } })),
        refetchInterval: ({ state }) => ((state.data ?? []).some(isUnderWay) ? WATCHED_EVERY : false),
    });

/** The newest audit of each experiment that is done. */
export const useNewestAudits = (site: string) =>
    useQuery({
        queryKey: ['audits', site, 'newest'],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits', { params: { path: { site }, query: { newest: 1 } } })),
        refetchInterval: 15_000,
    });

/** @param whole with nothing left out by exclusions */
export const useAudit = (site: string, audit: number, whole = false) =>
    useQuery({
        queryKey: ['audit', site, audit, ...(whole ? ['whole'] : [])],
        queryFn: () =>
            answer(api.GET('/api/sites/{site}/audits/{audit}', { params: { path: { site, audit }, query: whole ? { whole: 1 } : {} } })),
        placeholderData: (before) => (before?.audit === audit ? before : undefined),
        refetchInterval: ({ state }) => (state.data && isUnderWay(state.data) ? WATCHED_EVERY : false),
    });

/** A stretch of time, a segment, or both. */
export interface Chosen {
    since?: string;
    until?: string;
    dimension?: string;
    value?: string;
}

export const isChosen = (chosen: Chosen): boolean => Boolean(chosen.since || chosen.until || chosen.dimension);

export const useAuditPart = (site: string, audit: number, chosen: Chosen, enabled: boolean) =>
    useQuery({
        queryKey: ['audit-part', site, audit, chosen],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits/{audit}/part', { params: { path: { site, audit }, query: chosen } })),
        enabled,
        staleTime: Infinity,
    });

export function useAskAudit(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { experiment?: string; log?: number }) =>
            answer(api.POST('/api/sites/{site}/audits', { params: { path: { site } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['audits', site] }),
    });
}

export function useCancelAudit(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (audit: number) => answer(api.DELETE('/api/sites/{site}/audits/{audit}', { params: { path: { site, audit } } })),
        onSuccess: async () => {
            await client.invalidateQueries({ queryKey: ['audits', site] });
            await client.invalidateQueries({ queryKey: ['audit', site] });
        },
    });
}

export function useSayOfFinding(site: string, audit: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { identity: string; state: 'explained' | 'mended' | null; note?: string; until?: string | null }) =>
            answer(api.PUT('/api/sites/{site}/audits/{audit}/findings', { params: { path: { site, audit } }, body })),
        onSuccess: (read) => client.setQueryData(['audit', site, audit], read),
    });
}

export type Behind = Schemas['Behind'];
export type AuditRow = Schemas['AuditRow'];

interface SoughtRows extends Chosen {
    behind: Behind;
    variant?: string;
    goal?: string;
    whole?: 1;
}

/** Who is behind a number; asked for again until they are found. */
export const useAuditRows = (site: string, audit: number, query: SoughtRows) =>
    useQuery({
        queryKey: ['audit-rows', site, audit, query],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits/{audit}/rows', { params: { path: { site, audit }, query } })),
        refetchInterval: ({ state }) => (state.data && state.data.found === null && state.data.state !== 'failed' ? WATCHED_EVERY : false),
        staleTime: Infinity,
    });

export type Exclusion = Schemas['Exclusion'];
export type ExclusionRule = Schemas['ExclusionRule'];

/** What audits of the same leave out. */
export const useExclusions = (site: string, audit: number) =>
    useQuery({
        queryKey: ['exclusions', site, audit],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits/{audit}/exclusions', { params: { path: { site, audit } } })),
    });

export function useMakeExclusion(site: string, audit: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { exclusion: ExclusionRule; reason: string; everywhere: boolean }) =>
            answer(api.POST('/api/sites/{site}/audits/{audit}/exclusions', { params: { path: { site, audit } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['exclusions', site] }),
    });
}

export function useWithdrawExclusion(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (exclusion: number) =>
            answer(api.DELETE('/api/sites/{site}/exclusions/{exclusion}', { params: { path: { site, exclusion } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['exclusions', site] }),
    });
}

export const useAuditLogs = (site: string) =>
    useQuery({
        queryKey: ['audit-logs', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/audit-logs', { params: { path: { site } } })),
    });

export const useAuditLog = (site: string, log: number) =>
    useQuery({
        queryKey: ['audit-log', site, log],
        queryFn: () => answer(api.GET('/api/sites/{site}/audit-logs/{auditLog}', { params: { path: { site, auditLog: log } } })),
    });

export function useKeepAuditLog(site: string, log: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { experiment: Record<string, unknown> | null; mapping: Record<string, unknown> | null }) =>
            answer(api.PUT('/api/sites/{site}/audit-logs/{auditLog}', { params: { path: { site, auditLog: log } }, body })),
        onSuccess: (read) => client.setQueryData(['audit-log', site, log], read),
    });
}

export function useDeleteAuditLog(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (log: number) =>
            answer(api.DELETE('/api/sites/{site}/audit-logs/{auditLog}', { params: { path: { site, auditLog: log } } })),
        onSuccess: async () => {
            await client.invalidateQueries({ queryKey: ['audit-logs', site] });
            await client.invalidateQueries({ queryKey: ['audits', site] });
        },
    });
}

export const beginLog = (site: string, name: string, size: number): Promise<AuditLog> =>
    answer(api.POST('/api/sites/{site}/audit-logs', { params: { path: { site } }, body: { name, size } }));

/** Sends the next piece, as it is. */
export const sendPiece = (site: string, log: number, offset: number, piece: Blob): Promise<AuditLog> =>
    answer(
        api.PUT('/api/sites/{site}/audit-logs/{auditLog}/pieces/{offset}', {
            params: { path: { site, auditLog: log, offset } },
            body: piece as never,
            bodySerializer: (body) => body,
            headers: { 'Content-Type': 'application/octet-stream' },
        }),
    );

export type Notice = Schemas['Notice'];

/** What the watch has noticed; looked for now and then. */
export const useNotices = (site: string) =>
    useQuery({
        queryKey: ['notices', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/notices', { params: { path: { site } } })),
        refetchInterval: 30_000,
    });

export function useNoticesSeen(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: () => answer(api.PUT('/api/sites/{site}/notices/seen', { params: { path: { site } } })),
        onSuccess: (notices) => client.setQueryData(['notices', site], notices),
    });
}

export type AuditShare = Schemas['AuditShare'];

export const useAuditShares = (site: string, audit: number, enabled: boolean) =>
    useQuery({
        queryKey: ['audit-shares', site, audit],
        queryFn: () => answer(api.GET('/api/sites/{site}/audits/{audit}/shares', { params: { path: { site, audit } } })),
        enabled,
    });

export function useShareAudit(site: string, audit: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { recipient: string; days: number }) =>
            answer(api.POST('/api/sites/{site}/audits/{audit}/shares', { params: { path: { site, audit } }, body })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['audit-shares', site, audit] }),
    });
}

export function useRevokeShare(site: string, audit: number) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (share: number) =>
            answer(api.DELETE('/api/sites/{site}/audits/{audit}/shares/{share}', { params: { path: { site, audit, share } } })),
        onSuccess: () => client.invalidateQueries({ queryKey: ['audit-shares', site, audit] }),
    });
}

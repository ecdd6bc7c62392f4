import { useQuery } from '@tanstack/react-query';
import { useChange } from './change';
import { answer, api, type Schemas } from './client';

const SCANNING = 1000;
const RESTING = 15_000;

export type PageFilters = NonNullable<Parameters<typeof useCoverage>[1]>;

const path = (site: string) => ({ params: { path: { site } } });

export const useCoverage = (
    site: string,
    query: {
        state?: Schemas['LinkState'];
        group?: string;
        source?: Schemas['PageSource'];
        code?: string;
        q?: string;
        sort?: 'url' | '-url' | 'inspected' | '-inspected';
        page?: number;
    },
    live: boolean,
) =>
    useQuery({
        queryKey: ['coverage', site, query],
        queryFn: () => answer(api.GET('/api/sites/{site}/pages', { params: { path: { site }, query } })),
        placeholderData: (before) => before,
        refetchInterval: live ? SCANNING * 2 : RESTING,
    });

/** Pages by a part of their address, once enough of it was typed to tell some from others. */
export const useFoundPages = (site: string, words: string) =>
    useQuery({
        queryKey: ['coverage', site, 'found', words],
        queryFn: ({ signal }) => answer(api.GET('/api/sites/{site}/pages', { params: { path: { site }, query: { q: words } }, signal })),
        enabled: words.length >= 3,
        placeholderData: (before) => before,
    });

export const usePage = (site: string, page: number) =>
    useQuery({
        queryKey: ['coverage', site, 'page', page],
        queryFn: () => answer(api.GET('/api/sites/{site}/pages/{page}', { params: { path: { site, page } } })),
    });

export const useScans = (site: string) =>
    useQuery({
        queryKey: ['scans', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/scans', path(site))),
        refetchInterval: ({ state }) => (state.data?.some((scan) => scan.state === 'running') ? SCANNING : RESTING),
    });

export const useFindings = (site: string) =>
    useQuery({
        queryKey: ['findings', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/findings', path(site))),
        refetchInterval: RESTING,
    });

export const useGroups = (site: string) =>
    useQuery({ queryKey: ['groups', site], queryFn: () => answer(api.GET('/api/sites/{site}/page-groups', path(site))) });

export const useBriefs = (site: string) =>
    useQuery({ queryKey: ['briefs', site], queryFn: () => answer(api.GET('/api/sites/{site}/briefs', path(site))) });

export const useWiring = (site: string) =>
    useQuery({
        queryKey: ['wiring', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/wiring', path(site))),
        refetchInterval: RESTING,
    });

export const useDifferences = (site: string, version: number, against: number) =>
    useQuery({
        queryKey: ['wiring', site, version, against],
        queryFn: () =>
            answer(
                api.GET('/api/sites/{site}/wiring/versions/{version}/differences', {
                    params: { path: { site, version }, query: { against } },
                }),
            ),
    });

export const useSeenPages = (site: string) =>
    useQuery({
        queryKey: ['coverage', site, 'seen'],
        queryFn: ({ signal }) => answer(api.GET('/api/sites/{site}/pages/seen', { ...path(site), signal })),
    });

export const useAddPages = (site: string) =>
    useChange(['coverage'], (addresses: string) => answer(api.POST('/api/sites/{site}/pages', { ...path(site), body: { addresses } })));

export const useDeletePage = (site: string, page: number) =>
    useChange(['coverage'], () => answer(api.DELETE('/api/sites/{site}/pages/{page}', { params: { path: { site, page } } })));

export const useInspectPage = (site: string, page: number) =>
    useChange(['coverage', 'findings'], () =>
        answer(api.POST('/api/sites/{site}/pages/{page}/inspections', { params: { path: { site, page } } })),
    );

/** Has a page looked at that may not be known yet; whatever was said about it is asked for anew. */
export const useInspectAddress = (site: string) =>
    useChange(['coverage', 'findings', 'trial-begun'], async (address: string) => {
        const page = address.replace(/#.*/, '');
        await answer(api.POST('/api/sites/{site}/pages', { ...path(site), body: { addresses: page } }));
        const { pages } = await answer(api.GET('/api/sites/{site}/pages', { params: { path: { site }, query: { q: page } } }));
        const known = pages.find(({ url }) => url === page);
        if (!known) {
            throw new Error(`${page} is no page that can be inspected.`);
        }

        return answer(api.POST('/api/sites/{site}/pages/{page}/inspections', { params: { path: { site, page: known.id } } }));
    });

export const useStartScan = (site: string) =>
    useChange(['scans'], (body: { kind: 'find' | 'inspect'; depth?: number; most?: number }) =>
        answer(api.POST('/api/sites/{site}/scans', { ...path(site), body })),
    );

export const useCancelScan = (site: string) =>
    useChange(['scans', 'coverage'], (scan: number) =>
        answer(api.DELETE('/api/sites/{site}/scans/{scan}', { params: { path: { site, scan } } })),
    );

export const useExplain = (site: string) =>
    useChange(['findings'], ({ finding, ...body }: { finding: number; state: 'open' | 'explained' | 'mended'; note: string | null }) =>
        answer(api.PUT('/api/sites/{site}/findings/{finding}', { params: { path: { site, finding } }, body })),
    );

export const useSaveGroups = (site: string) =>
    useChange(['groups', 'coverage'], (groups: Schemas['PageGroup'][]) =>
        answer(api.PUT('/api/sites/{site}/page-groups', { ...path(site), body: { groups } })),
    );

export const useMakeBrief = (site: string) =>
    useChange(['briefs'], (body: { recipient: string; message: string; days: number; guard_ms: number | null }) =>
        answer(api.POST('/api/sites/{site}/briefs', { ...path(site), body })),
    );

export const useRevokeBrief = (site: string) =>
    useChange(['briefs'], (brief: number) => answer(api.DELETE('/api/sites/{site}/briefs/{brief}', { params: { path: { site, brief } } })));

export const useSaveTags = (site: string) =>
    useChange(['wiring'], (body: { revision: number; tags: Schemas['Tag'][] }) =>
        answer(api.PUT('/api/sites/{site}/wiring/tags', { ...path(site), body })),
    );

export const usePublish = (site: string) =>
    useChange(['wiring'], (note: string) => answer(api.POST('/api/sites/{site}/wiring/versions', { ...path(site), body: { note } })));

export const useRestore = (site: string) =>
    useChange(['wiring'], (version: number) =>
        answer(api.POST('/api/sites/{site}/wiring/versions/{version}/restore', { params: { path: { site, version } } })),
    );

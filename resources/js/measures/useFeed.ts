import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Schemas } from '../api/client';
import { readFeed, type FeedFilters } from '../api/measures';

export type FeedRow =
    { kind: 'event'; at: string; event: Schemas['FeedEvent'] } | { kind: 'rejected'; at: string; rejected: Schemas['FeedRejected'] };

const EVERY = 1000;
const MOST = 300;

/** An event may be committed after one that was received later: the last seconds are looked at again. */
const AGAIN = 5000;
/** The same for rejected events, which are told by their numbers: a lower one may be committed after a higher one. */
const AGAIN_REJECTED = 200;

export interface Read {
    rows: FeedRow[];
    /** How many rows have come in all; the oldest are dropped again. */
    total: number;
    after: number;
    afterRejected: number;
}

/** The newest events first, looked for every second. */
export function useFeed(site: string, filters: FeedFilters): { rows: FeedRow[]; total: number; error: string; reading: boolean } {
    const client = useQueryClient();
    const key = ['feed', site, filters];
    const feed = useQuery({
        queryKey: key,
        queryFn: async ({ signal }): Promise<Read> => {
            const before = client.getQueryData<Read>(key) ?? { rows: [], total: 0, after: 0, afterRejected: 0 };
            const answer = await readFeed(
                site,
                filters,
                Math.max(0, before.after - AGAIN),
                Math.max(0, before.afterRejected - AGAIN_REJECTED),
                signal,
            );

            return joined(before, answer);
        },
        refetchInterval: EVERY,
        gcTime: 0,
    });

    return { rows: feed.data?.rows ?? [], total: feed.data?.total ?? 0, error: feed.error?.message ?? '', reading: feed.isPending };
}

export function joined(before: Read, answer: Schemas['Feed']): Read {
    const known = new Set(before.rows.map(keyOf));
    // What was dropped because it was too old comes again with what is looked at again: it is not new.
    const oldest = before.rows.length < MOST ? '' : before.rows[MOST - 1].at;
    const fresh = [
        ...answer.events.map((event): FeedRow => ({ kind: 'event', at: event.received, event })),
        ...answer.rejected.map((rejected): FeedRow => ({ kind: 'rejected', at: rejected.received, rejected })),
    ].filter((row) => row.at > oldest && !known.has(keyOf(row)));
    if (fresh.length === 0) {
        return before.after === 0 ? { ...before, after: answer.after, afterRejected: answer.after_rejected } : before;
    }

    return {
        rows: [...fresh, ...before.rows].sort((a, b) => b.at.localeCompare(a.at)).slice(0, MOST),
        total: before.total + fresh.length,
        after: Math.max(before.after, answer.after),
        afterRejected: Math.max(before.afterRejected, answer.after_rejected),
    };
}

export function keyOf(row: FeedRow): string {
    return row.kind === 'event' ? row.event.key : row.rejected.key;
}

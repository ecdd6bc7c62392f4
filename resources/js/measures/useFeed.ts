import { useEffect, useState } from 'react';
import type { Schemas } from '../api/client';
import { readFeed, type FeedFilters } from '../api/measures';

export type FeedRow =
    { kind: 'event'; at: string; event: Schemas['FeedEvent'] } | { kind: 'rejected'; at: string; rejected: Schemas['FeedRejected'] };

const EVERY = 1000;
const MOST = 300;

interface Read {
    /** The filters that the rows were read for. */
    asked: string;
    rows: FeedRow[];
    /** How many rows have come in all; the oldest are dropped again. */
    total: number;
    error: string;
}

/** The newest events first, looked for every second. */
export function useFeed(site: string, filters: FeedFilters): { rows: FeedRow[]; total: number; error: string; reading: boolean } {
    const asked = JSON.stringify(filters);
    const [read, setRead] = useState<Read>({ asked: '', rows: [], total: 0, error: '' });

    useEffect(() => {
        let stopped = false;
        let timer = 0;
        let [after, afterRejected] = [0, 0];
        const put = (fresh: FeedRow[], error: string): void =>
            setRead((before) => {
                const rows = before.asked === asked ? before.rows : [];
                if (before.asked === asked && fresh.length === 0 && before.error === error) {
                    return before;
                }

                return {
                    asked,
                    rows: [...fresh, ...rows].slice(0, MOST),
                    total: (before.asked === asked ? before.total : 0) + fresh.length,
                    error,
                };
            });
        const look = async (): Promise<void> => {
            try {
                const feed = await readFeed(site, JSON.parse(asked) as FeedFilters, after, afterRejected);
                if (stopped) {
                    return;
                }
                [after, afterRejected] = [feed.after, feed.after_rejected];
                const fresh: FeedRow[] = [
                    ...feed.events.map((event): FeedRow => ({ kind: 'event', at: event.received, event })),
                    ...feed.rejected.map((rejected): FeedRow => ({ kind: 'rejected', at: rejected.received, rejected })),
                ];
                put(
                    fresh.sort((a, b) => b.at.localeCompare(a.at)),
                    '',
                );
            } catch (problem) {
                if (!stopped) {
                    put([], (problem as Error).message);
                }
            }
            if (!stopped) {
                timer = window.setTimeout(() => void look(), EVERY);
            }
        };
        void look();

        return () => {
            stopped = true;
            window.clearTimeout(timer);
        };
    }, [site, asked]);
    const isCurrent = read.asked === asked;

    return { rows: isCurrent ? read.rows : [], total: isCurrent ? read.total : 0, error: isCurrent ? read.error : '', reading: !isCurrent };
}

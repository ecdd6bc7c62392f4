import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { joined, keyOf, type Read } from '../measures/useFeed';

const NOTHING: Read = { rows: [], total: 0, after: 0, afterRejected: 0 };

const at = (second: number): string => new Date(Date.UTC(2026, 2, 2, 10, 0, second)).toISOString();
const event = (key: string, second: number) => ({ key, received: at(second) }) as Schemas['FeedEvent'];
const rejected = (key: string, second: number) => ({ key, received: at(second) }) as Schemas['FeedRejected'];

function answer(events: Schemas['FeedEvent'][], bad: Schemas['FeedRejected'][] = [], after = 1): Schemas['Feed'] {
    return { after, after_rejected: bad.length, events, rejected: bad } as Schemas['Feed'];
}

describe('the feed', () => {
    it('shows the newest first, each once, however often it is looked at again', () => {
        const first = joined(NOTHING, answer([event('b', 2), event('a', 1)], [rejected('r1', 0)]));
        const second = joined(first, answer([event('c', 3), event('b', 2), event('a', 1)], [rejected('r2', 4), rejected('r1', 0)]));
        expect(second.rows.map(keyOf)).toEqual(['r2', 'c', 'b', 'a', 'r1']);
        expect([first.total, second.total]).toEqual([3, 5]);
    });

    it('takes in what was committed after one that came later', () => {
        const first = joined(NOTHING, answer([event('late', 9)]));
        expect(joined(first, answer([event('late', 9), event('early', 8)])).rows.map(keyOf)).toEqual(['late', 'early']);
    });

    it('does not take what was dropped as too old for new when it is looked at again', () => {
        const old = Array.from({ length: 80 }, (_, i) => rejected(`r${i}`, i));
        let read = joined(NOTHING, answer([], old));
        for (let i = 0; i < 40; i++) {
            const events = Array.from({ length: 10 }, (_, n) => event(`e${i}-${n}`, 100 + i));
            read = joined(read, answer(events, old));
        }
        expect(read.rows).toHaveLength(300);
        expect(read.total).toBe(480);
    });

    it('stays the very same while nothing comes', () => {
        const read = joined(NOTHING, answer([event('a', 1)]));
        expect(joined(read, answer([event('a', 1)]))).toBe(read);
        expect(joined(NOTHING, answer([], [], 7)).after).toBe(7);
    });
});

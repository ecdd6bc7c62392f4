import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { browser, device, isCrawler } from '../src/agent';
import { merged } from '../src/merged';
import { assign } from '../src/assign';
import { eventFacts, type Told } from '../src/facts';
import { murmur3, unitInterval } from '../src/hash';
import { addressFacts, matches } from '../src/rules';
import type { Rule, Variant } from '../src/types';

const vectors = (name: string) => JSON.parse(readFileSync(`tests/vectors/${name}.json`, 'utf8'));

interface Case {
    salt: string;
    share: number;
    group?: [string, number];
    variants: [string, number][];
    units: { unit: string; in: boolean; variant: string | null; bucket: number }[];
}

/** What PHP compiles: a running sum in declared order, divided once (core/src/Assignment/Variants.php). */
function compiled(pairs: [string, number][]): Variant[] {
    const total = pairs.reduce((sum, [, weight]) => sum + weight, 0);
    let sum = 0;

    return pairs.map(([key, weight]) => ({ key, end: (sum += weight) / total, changes: [] }));
}

describe('the vectors that PHP passes too', () => {
    it.each(vectors('murmur3').vectors as [string, number, string][])('hashes %j with seed %i as published', (text, seed, hash) => {
        expect(murmur3(text, seed).toString(16).padStart(8, '0')).toBe(hash);
    });

    it.each(vectors('assignment') as Case[])(
        'assigns as the independent implementation does: $salt',
        ({ salt, share, group, variants, units }) => {
            for (const wanted of units) {
                const got = assign(
                    { salt, share, variants: compiled(variants), ...(group ? { group: { key: group[0], from: group[1] } } : {}) },
                    wanted.unit,
                );
                expect({ unit: wanted.unit, in: got.in, variant: got.variant?.key ?? null, bucket: got.bucket }).toEqual(wanted);
            }
        },
    );

    it.each(vectors('rules') as [Rule, Record<string, boolean>][])('matches %j', (rule, addresses) => {
        for (const [url, wanted] of Object.entries(addresses)) {
            expect(matches(rule, addressFacts(url)), url).toBe(wanted);
        }
    });

    it('matches several hundred rules on events as the independent implementation does', () => {
        const cases = vectors('event_rules') as { rule: Rule; events: (Told & { matches: boolean })[] }[];
        const differing = cases.flatMap(({ rule, events }) =>
            events.filter((event) => matches(rule, eventFacts(event)) !== event.matches).map((event) => [rule, event]),
        );
        expect(differing).toEqual([]);
        expect(cases.length).toBeGreaterThan(300);
    });

    it.each(vectors('agents') as [string, string, string, boolean?][])(
        'tells device, browser and programs of %j',
        (agent, wantedDevice, wantedBrowser, crawls = false) => {
            expect([device(agent), browser(agent), isCrawler(agent)]).toEqual([wantedDevice, wantedBrowser, crawls]);
        },
    );

    it.each(vectors('redirects').merged as [string, string, string][])(
        'puts %s together for a visitor of %s',
        (target, visited, wanted) => {
            expect(merged(target, visited)).toBe(wanted);
        },
    );
});

it('stays below 1', () => {
    for (let i = 0; i < 2000; i++) {
        const h = unitInterval(`unit ${i}`);
        expect(h >= 0 && h < 1).toBe(true);
    }
});

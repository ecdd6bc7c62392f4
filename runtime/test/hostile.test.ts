import { expect, it, vi } from 'vitest';
import type { Experiment } from '../src/types';
import { EXPERIMENT, load, names, sent } from './visit';

/** The same numbers each time (a linear congruential generator, Lehmer 1951 with the constants of Park and Miller 1988). */
function lehmer(seed: number): (most: number) => number {
    return (most) => (seed = (seed * 48271) % 2147483647) % most;
}

it('lets no rule, trigger or target out into the page, and no broken experiment in the way of another', async () => {
    const random = lehmer(11);
    const pick = <T>(list: T[]): T => list[random(list.length)];
    const facts = ['url.path', 'url.query.x', 'device', 'data.a.b', 'cookie.%', 'nothing', '', 'event.props.x', 'visitor.returning'];
    const ops = ['is', 'is-not', 'matches', 'in', 'exists', 'lt', 'starts', 'dance', ''];
    const values = ['/join', '', null, 7, NaN, ['/join', null], {}, '(((', '(a+)+$', '\u0000', true];
    const rule = (depth = 0): unknown => {
        const kind = depth > 3 ? 0 : random(8);
        const parts = (): unknown[] => Array.from({ length: random(3) }, () => rule(depth + 1));

        return kind === 1
            ? { all: parts() }
            : kind === 2
              ? { any: parts() }
              : kind === 3
                ? { not: rule(depth + 1) }
                : kind === 4
                  ? pick<unknown>([null, {}, { all: null }, { not: null }, 'x', 5, []])
                  : {
                        fact: pick(facts),
                        op: pick(ops),
                        value: pick<unknown>(values),
                        ignore: pick<unknown>([undefined, ['case'], 'x', [null]]),
                    };
    };
    const heard: unknown[] = [];
    addEventListener('error', (event) => heard.push(event.error));
    addEventListener('unhandledrejection', (event) => heard.push(event.reason));
    vi.spyOn(console, 'warn').mockImplementation(() => undefined);
    const broken = Array.from({ length: 200 }, (_, i) => ({
        key: pick([`x${i}`, '', '~|;']),
        salt: pick(['s', '']),
        share: pick<unknown>([1, 0, -1, NaN, '1', null]),
        pages: rule(),
        ...(random(2) ? { audience: rule() } : {}),
        ...(random(3)
            ? {}
            : {
                  trigger: pick<unknown>([
                      null,
                      {},
                      { kind: 'page' },
                      { kind: 'element', selector: ':::' },
                      { kind: 'click' },
                      { kind: 'data', when: rule() },
                  ]),
              }),
        ...(random(4) ? {} : { redirect: true }),
        ...(random(6) ? {} : { group: pick<unknown>([null, {}, { key: 'g', from: 0 }]) }),
        variants: pick<unknown>([
            [],
            null,
            [{ key: 'a', end: 1, changes: [] }],
            [{ key: 'a', end: 1, changes: null }],
            [{ key: 'a', end: 1, changes: [], target: pick(['http://[', '//', '', '/join']) }],
            [{ key: 'a', end: 1, changes: [{ kind: 'dance', selector: 'p' }, null] }],
        ]),
    })) as unknown as Experiment[];
    for (let from = 0; from < broken.length; from += 20) {
        sent.length = 0;
        document.body.innerHTML = '<h1>Old</h1>';
        await load({ experiments: [...broken.slice(from, from + 20), EXPERIMENT], dataLayer: 'shelf' });
        (window as unknown as { shelf: unknown[] }).shelf.push({ a: { b: 1 } }, null, 'x');
        document.querySelector('h1')?.click();
        await vi.advanceTimersByTimeAsync(300);
        expect(sent.some(({ name, props }) => name === 'exposure' && props.experiment === 'x')).toBe(true);
        expect(names()[0]).toBe('page_view');
        delete window.pellix;
        delete (window as unknown as { shelf?: unknown }).shelf;
        document.cookie = 'plx_variants=; Max-Age=0; Path=/';
    }
    expect(heard).toEqual([]);
});

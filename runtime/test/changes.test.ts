import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import vectors from '../../tests/vectors/changes.json';
import { applyChanges, type Applied } from '../src/changes';
import type { Change } from '../src/types';

let applied: Applied[];
let all: ReturnType<typeof vi.fn>;
let failed: ReturnType<typeof vi.fn>;

beforeEach(() => {
    document.head.innerHTML = '';
    document.body.innerHTML = '';
    applied = [];
    all = vi.fn();
    failed = vi.fn();
});
afterEach(() => applied.forEach((one) => one.stop()));

function change(...changes: (Change & { off?: boolean })[]): Applied {
    const one = applyChanges(
        changes.filter(({ off }) => !off),
        all as () => void,
        failed as (number: number, message: string) => void,
    );
    applied.push(one);

    return one;
}

/** Until the observer has been told, some rounds of it. */
async function settled(): Promise<void> {
    for (let i = 0; i < 60; i++) {
        await Promise.resolve();
    }
}

describe('changes', () => {
    it.each(vectors.takes.map((one) => [one.name, one] as const))('make: %s; and are undone', async (_, { page, changes, becomes }) => {
        document.body.innerHTML = page;
        const one = change(...(changes as Change[]));
        expect(document.body.innerHTML).toBe(becomes);
        await settled();
        expect(document.body.innerHTML).toBe(becomes);
        expect(one.missing()).toEqual([]);
        expect(all).toHaveBeenCalledTimes(1);
        one.stop();
        expect(document.body.innerHTML.replaceAll(' style=""', '')).toBe(page);
        expect(failed).not.toHaveBeenCalled();
    });

    it.each(vectors.takes.map((one) => [one.name, one] as const))(
        'are made on elements that come late: %s',
        async (_, { page, changes, becomes }) => {
            change(...(changes as Change[]));
            await settled();
            document.body.innerHTML = page;
            await settled();
            expect(document.body.innerHTML).toBe(becomes);
        },
    );

    it.each(vectors.takes.map((one) => [one.name, one] as const))(
        'are made again when the page draws itself anew: %s',
        async (_, { page, changes, becomes }) => {
            document.body.innerHTML = page;
            change(...(changes as Change[]));
            await settled();
            for (let i = 0; i < 3; i++) {
                document.body.innerHTML = page;
                await settled();
                expect(document.body.innerHTML).toBe(becomes);
            }
        },
    );

    it('are made again on the same element, but not for ever, and say so', async () => {
        document.body.innerHTML = '<p class="a">x</p>';
        const p = document.querySelector('p')!;
        const one = change(
            { kind: 'text', selector: 'p', value: 'ours' },
            { kind: 'class', selector: 'p', add: ['b'] },
            { kind: 'attribute', selector: 'p', attribute: 'title', value: 't' },
            { kind: 'style', selector: 'p', property: 'color', value: 'red' },
        );
        await settled();
        const back = (): void => {
            p.textContent = 'theirs';
            p.className = 'a';
            p.removeAttribute('title');
            p.style.color = '';
        };
        back();
        await settled();
        expect(document.body.innerHTML).toBe('<p class="a b" style="color: red !important;" title="t">ours</p>');
        expect(one.reverted().changes).toEqual([]);
        // A page that holds against it each time.
        const page = new MutationObserver(() => p.textContent !== 'theirs' && (p.textContent = 'theirs'));
        page.observe(document.body, { childList: true, subtree: true, characterData: true });
        back();
        for (let i = 0; i < 10; i++) {
            await settled();
        }
        page.disconnect();
        expect(p.textContent).toBe('theirs');
        expect(one.reverted().changes.map(({ kind }) => kind)).toEqual(['text']);
        expect(one.reverted().times).toBeGreaterThanOrEqual(20);
    });

    it('puts nothing back that the page has changed since', () => {
        document.body.innerHTML = '<h1>Old</h1><p>x</p>';
        const one = change({ kind: 'text', selector: 'h1', value: 'Ours' }, { kind: 'hide', selector: 'p' });
        document.querySelector('h1')!.textContent = 'News';
        one.stop();
        expect(document.querySelector('h1')!.textContent).toBe('News');
        expect(document.querySelector<HTMLElement>('p')!.style.display).toBe('');
    });

    it('does not grow for ever where changes feed each other', async () => {
        document.body.innerHTML = '<div class="a">x</div>';
        change(
            { kind: 'insert', selector: '.a', place: 'last', value: '<i class="b"></i>' },
            { kind: 'insert', selector: '.b', place: 'last', value: '<i class="a"></i>' },
        );
        await settled();
        expect(document.querySelectorAll('*').length).toBeLessThan(30);
    });

    it('waits with a move until both elements are there, and never moves something into itself', async () => {
        document.body.innerHTML = '<div id="d"><b>x</b></div>';
        const one = change({ kind: 'move', selector: '#d', place: 'first', to: '#d b, #late' });
        expect(one.missing()).toHaveLength(1);
        document.body.insertAdjacentHTML('beforeend', '<section id="late"></section>');
        await settled();
        expect(document.body.innerHTML).toBe('<section id="late"><div id="d"><b>x</b></div></section>');
        expect(one.missing()).toEqual([]);
    });

    it('puts a style sheet with the nonce of the snippet, and again where the page drops it', async () => {
        const snippet = document.createElement('script');
        snippet.nonce = 'n1';
        snippet.setAttribute('data-pellix', '');
        document.head.append(snippet);
        const one = change({ kind: 'sheet', value: 'p { color: red }' });
        const sheet = (): HTMLStyleElement | null => document.querySelector('style');
        expect([sheet()?.textContent, sheet()?.nonce]).toEqual(['p { color: red }', 'n1']);
        await settled();
        sheet()?.remove();
        await settled();
        expect(sheet()?.textContent).toBe('p { color: red }');
        one.stop();
        expect(sheet()).toBeNull();
    });

    it('survives what no browser knows: selectors, names, and values', async () => {
        document.body.innerHTML = '<p>x</p>';
        const one = change(
            { kind: 'text', selector: 'p:::', value: 'x' },
            { kind: 'attribute', selector: 'p', attribute: '7', value: 'x' },
            { kind: 'move', selector: 'p', place: 'before', to: ':::' },
            { kind: 'text', selector: 'p', value: 'made' },
        );
        await settled();
        expect(document.querySelector('p')?.textContent).toBe('made');
        expect(one.missing().map(({ selector }) => selector)).toEqual(['p:::']);
        expect(failed.mock.calls.map(([number]) => number)).toEqual([2, 3]);
    });

    it('never throws into the page, whatever it is told to do', async () => {
        let seed = 7;
        const random = (most: number): number => (seed = (seed * 48271) % 2147483647) % most;
        const pick = <T>(list: T[]): T => list[random(list.length)];
        const selectors = ['p', '.a', '#d', 'div *', '*', 'body', 'html', ':::', '', 'p > b', '[x', ':not(p)', 'head'];
        const values = ['', 'x', '<b class="a">y</b>', '<div id="d"><p>', '<table><td>', '\u0000', '<svg><p>', 'red', '12px'];
        for (let run = 0; run < 200; run++) {
            document.body.innerHTML = '<div id="d" class="a"><p>x<b>y</b></p></div><p class="a">z</p>';
            const one = change(
                ...Array.from({ length: 1 + random(8) }, () => {
                    const kinds: Change['kind'][] = [
                        'text',
                        'html',
                        'attribute',
                        'style',
                        'class',
                        'hide',
                        'remove',
                        'move',
                        'insert',
                        'sheet',
                    ];

                    return {
                        kind: pick(kinds),
                        selector: pick(selectors),
                        value: pick([...values, null]) ?? undefined,
                        property: pick(['color', '--x', 'no-such', '']),
                        attribute: pick(['title', 'href', '', '7', 'a b']),
                        add: [pick(['a', 'b', '', 'a b'])],
                        place: pick(['before', 'after', 'first', 'last'] as const),
                        to: pick(selectors),
                    };
                }),
            );
            await settled();
            expect(() => one.stop()).not.toThrow();
            await settled();
            expect(document.documentElement.querySelectorAll('*').length).toBeLessThan(20_000);
            document.documentElement.innerHTML = '<head></head><body></body>';
        }
    });
});

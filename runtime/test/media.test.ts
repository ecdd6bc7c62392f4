import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { applyChanges, type Applied } from '../src/changes';
import type { Change, Configuration } from '../src/types';

/** A window whose width a test sets: as `matchMedia` tells of it (W3C CSSOM View, 4.2). */
let width = 1280;
const queries: { holds: () => boolean; matches: boolean; onchange: (() => void) | null }[] = [];
let applied: Applied | null = null;

beforeEach(async () => {
    window.pellixSite = {} as Configuration;
    vi.resetModules();
    await import('../src/optional/media');
    window.matchMedia = ((text: string) => {
        const most = Number(/max-width: (\d+)px/.exec(text)![1]);
        const query = {
            holds: () => width <= most,
            get matches() {
                return this.holds();
            },
            onchange: null as (() => void) | null,
        };
        queries.push(query);

        return query;
    }) as unknown as typeof window.matchMedia;
});
afterEach(() => {
    applied?.stop();
    queries.length = 0;
    delete window.pellixSite;
    document.body.innerHTML = '';
});

function resize(to: number): void {
    const before = queries.map(({ matches }) => matches);
    width = to;
    queries.forEach((query, i) => query.matches !== before[i] && query.onchange?.());
}

const NARROW: Change = { kind: 'text', selector: 'p', value: 'narrow', media: '(max-width: 600px)' };

it('makes a change at its widths, takes it back at others, and misses nothing there', () => {
    width = 1280;
    document.body.innerHTML = '<p>x</p>';
    const all = vi.fn();
    applied = applyChanges([NARROW, { kind: 'hide', selector: 'i', media: '(max-width: 600px)' }], all, vi.fn());
    expect(document.body.innerHTML).toBe('<p>x</p>');
    expect(applied.missing()).toEqual([]);
    expect(all).toHaveBeenCalledTimes(1);
    resize(500);
    expect(document.body.innerHTML).toBe('<p>narrow</p>');
    // At this width there is something to be made, and no element for it.
    expect(applied.missing().map(({ selector }) => selector)).toEqual(['i']);
    resize(700);
    expect(document.body.innerHTML).toBe('<p>x</p>');
    expect(applied.missing()).toEqual([]);
    resize(400);
    applied.stop();
    expect(document.body.innerHTML).toBe('<p>x</p>');
    resize(1280);
    resize(300);
    expect(document.body.innerHTML).toBe('<p>x</p>');
});

it('makes it to an element that comes once the window is as wide', async () => {
    width = 1280;
    applied = applyChanges([NARROW], vi.fn(), vi.fn());
    document.body.innerHTML = '<p>x</p>';
    await new Promise((done) => setTimeout(done, 0));
    expect(document.body.innerHTML).toBe('<p>x</p>');
    resize(500);
    expect(document.body.innerHTML).toBe('<p>narrow</p>');
});

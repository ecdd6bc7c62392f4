import { describe, expect, it, vi } from 'vitest';
import { closePage, EXPERIMENT, load, names, sent, takes } from './visit';

describe('what is sent', () => {
    it('tries again later what the browser would not take', async () => {
        takes(false);
        await load();
        await vi.advanceTimersByTimeAsync(300);
        expect(sent).toHaveLength(0);
        takes(true);
        await vi.advanceTimersByTimeAsync(6000);
        expect(names()).toEqual(['page_view', 'exposure']);
        await vi.advanceTimersByTimeAsync(60_000);
        expect(names().filter((name) => name === 'exposure')).toHaveLength(1);
        expect(localStorage.getItem('plx_unsent')).toBeNull();
    });

    it('sends from the next page what this one could not', async () => {
        takes(false);
        await load();
        dispatchEvent(new Event('pagehide'));
        expect(sent).toHaveLength(0);
        closePage();
        takes(true);
        await load();
        await vi.advanceTimersByTimeAsync(300);
        expect(names().filter((name) => name === 'page_view')).toHaveLength(2);
        expect(new Set(sent.map((event) => event.id)).size).toBe(sent.length);
    });

    it('splits what is too much for one beacon', async () => {
        await load();
        const bodies: number[] = [];
        const send = window.fetch;
        window.fetch = (url, init) => (bodies.push((init?.body as string).length), send(url, init));
        for (let i = 0; i < 120; i++) {
            window.pellix?.('event', 'many', { text: 'ž'.repeat(1000) });
        }
        await vi.advanceTimersByTimeAsync(300);
        expect(names().filter((name) => name === 'many')).toHaveLength(120);
        expect(Math.max(...bodies) * 3).toBeLessThan(65536);
    });

    it.each([
        ['a selector that is none', { changes: [{ kind: 'text', selector: ':::', value: 'x' }] }],
        ['a change of an unknown kind', { changes: [{ kind: 'move', selector: 'h1', value: 'x' }] }],
        ['no changes at all', { changes: undefined }],
    ])('never throws into the page: %s', async (_, variant) => {
        const warn = vi.spyOn(console, 'warn').mockImplementation(() => {});
        const thrown: unknown[] = [];
        addEventListener('error', (event) => thrown.push(event));
        await load({ experiments: [{ ...EXPERIMENT, variants: [{ key: 'b', end: 1, ...variant } as never] }] });
        window.pellix?.(
            'event',
            'loop',
            (() => {
                const loop: Record<string, unknown> = {};
                loop.loop = loop;
                return loop;
            })(),
        );
        vi.advanceTimersByTime(300);
        dispatchEvent(new Event('pagehide'));
        expect(thrown).toEqual([]);
        expect(names()).toContain('page_view');
        expect(warn).toHaveBeenCalled();
    });
});

import { describe, expect, it, vi } from 'vitest';
import type { Tag } from '../src/types';
import { closePage, load, names, sent, takes } from './visit';

describe('consent', () => {
    it('keeps and sends nothing before consent where the site asks for it, and then what was meanwhile', async () => {
        await load({ ask: true });
        window.pellix?.('event', 'early');
        await vi.advanceTimersByTimeAsync(2000);
        expect(sent).toEqual([]);
        expect(document.cookie).toBe('');
        expect(localStorage).toHaveLength(0);
        expect(document.querySelector('h1')?.textContent).toBe('Old');
        window.pellix?.('consent', ['statistics']);
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).toEqual(['page_view', 'exposure', 'early']);
        expect(document.cookie).toContain('plx_visitor');
        window.pellix?.('consent', []);
        expect(document.cookie).toBe('plx_consent=none');
    });

    it('honours Global Privacy Control where the site says so', async () => {
        Object.defineProperty(navigator, 'globalPrivacyControl', { value: true, configurable: true });
        await load({ gpc: true });
        await vi.advanceTimersByTimeAsync(2000);
        expect(sent).toEqual([]);
        closePage();
        await load({ gpc: false });
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).toContain('page_view');
        Reflect.deleteProperty(navigator, 'globalPrivacyControl');
    });
});

describe('consent that is taken back', () => {
    const say = (...call: unknown[]): void => (window.pellix as (...call: unknown[]) => void)(...call);
    const late: Tag = {
        key: 'late',
        kind: 'script',
        code: 'window.lateRan = true',
        consent: 'statistics',
        once: 'page',
        triggers: [{ kind: 'time', seconds: 20 }],
    };

    it('ends timers, listeners, changes to come and what waits or is on its way, and leaves no id behind', async () => {
        takes(false);
        let called: AbortSignal | null | undefined;
        const original = window.fetch;
        await load({ tags: [late] });
        window.fetch = (address, init) => {
            called = init?.signal;

            return original(address, init);
        };
        say('event', 'before', {});
        await vi.advanceTimersByTimeAsync(300);
        expect(localStorage.getItem('plx_unsent')).toContain('before');
        expect(document.cookie).toContain('plx_visitor=');
        takes(true);
        say('consent', ['marketing']);
        expect(called?.aborted).toBe(true);
        say('event', 'while', {});
        document.body.insertAdjacentHTML('beforeend', '<p class="late">x</p><a href="#x">y</a>');
        document.querySelector('a')?.click();
        history.pushState({}, '', '/elsewhere');
        window.dispatchEvent(new Event('pagehide'));
        await vi.advanceTimersByTimeAsync(60_000);
        expect(sent).toEqual([]);
        expect((window as unknown as { lateRan?: boolean }).lateRan).toBeUndefined();
        expect(document.querySelector<HTMLElement>('.late')?.style.color).toBe('');
        expect(document.cookie).toBe('plx_consent=marketing');
        expect([localStorage.length, sessionStorage.length]).toEqual([0, 0]);
    });

    it('makes a new visitor of the one who gives it again, who has done nothing yet', async () => {
        await load();
        await vi.advanceTimersByTimeAsync(300);
        const [{ visitor }] = sent;
        say('consent', []);
        say('event', 'while', {});
        sent.length = 0;
        say('consent', ['statistics']);
        say('event', 'after', {});
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).toEqual(['page_view', 'exposure', 'after']);
        expect(sent.every((event) => event.visitor === sent[0].visitor && event.visitor !== visitor)).toBe(true);
        document.querySelector('h1')?.dispatchEvent(new MouseEvent('click', { bubbles: true }));
        await vi.advanceTimersByTimeAsync(300);
        expect(names().filter((name) => name === 'click').length).toBeLessThanOrEqual(1);
    });
});

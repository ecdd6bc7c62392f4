import { describe, expect, it, vi } from 'vitest';
import { closePage, load, names, sent } from './visit';

describe('the runtime', () => {
    it('lets the flicker guard go when all changes are made, and at once where there are none', async () => {
        window.pellixShow = vi.fn();
        document.body.insertAdjacentHTML('beforeend', '<p class="late">x</p>');
        await load();
        expect(window.pellixShow).toHaveBeenCalled();
        closePage();
        history.replaceState({}, '', '/other');
        window.pellixShow = vi.fn();
        await load();
        expect(window.pellixShow).toHaveBeenCalled();
        delete window.pellixShow;
    });

    it('keeps the guard while the page is being read and an element is missing, and no longer', async () => {
        const state = vi.spyOn(document, 'readyState', 'get').mockReturnValue('loading');
        window.pellixShow = vi.fn();
        await load();
        expect(window.pellixShow).not.toHaveBeenCalled();
        document.body.insertAdjacentHTML('beforeend', '<p class="late">x</p>');
        await Promise.resolve();
        expect(window.pellixShow).toHaveBeenCalledTimes(1);
        closePage();
        document.querySelector('.late')?.remove();
        window.pellixShow = vi.fn();
        await load();
        expect(window.pellixShow).not.toHaveBeenCalled();
        document.dispatchEvent(new Event('DOMContentLoaded'));
        expect(window.pellixShow).toHaveBeenCalled();
        state.mockRestore();
        delete window.pellixShow;
    });

    it('runs once where the snippet stands twice', async () => {
        await load();
        await load();
        vi.advanceTimersByTime(300);
        expect(names().filter((name) => name === 'page_view')).toHaveLength(1);
    });

    it('takes the calls that waited and those to come', async () => {
        const waiting: unknown[][] = [['event', 'opened', { page: 1 }], ['nonsense'], []];
        window.pellix = Object.assign(() => {}, { waiting });
        await load();
        window.pellix('event', 'closed');
        vi.advanceTimersByTime(300);
        expect(sent.filter((event) => event.name === 'opened' || event.name === 'closed').map((event) => event.props)).toEqual([
            { page: 1 },
            {},
        ]);
    });
});

it('keeps one part that fails from the others that listen', async () => {
    const { Bus } = await import('../src/bus');
    const bus = new Bus();
    const heard: string[] = [];
    vi.spyOn(console, 'warn').mockImplementation(() => undefined);
    bus.on('look', () => {
        throw new Error('broken');
    });
    bus.on('look', () => heard.push('look'));
    bus.tell('look');
    bus.close();
    bus.tell('look');
    expect(heard).toEqual(['look']);
});

import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Configuration } from '../src/types';

/** What the browser would tell of what is in the window (W3C Intersection Observer, 2.2): a test says it. */
class Observer {
    static all: Observer[] = [];
    readonly watched = new Set<Element>();

    constructor(private readonly heard: (entries: unknown[]) => void) {
        Observer.all.push(this);
    }

    observe(element: Element): void {
        this.watched.add(element);
    }

    disconnect(): void {
        this.watched.clear();
    }

    see(element: Element, ratio: number, height = 100 * ratio): void {
        if (this.watched.has(element)) {
            this.heard([{ target: element, intersectionRatio: ratio, intersectionRect: { height } }]);
        }
    }
}

const told = vi.fn();

async function watch(...areas: string[]): Promise<Observer> {
    window.pellixSite = { areas } as Configuration;
    await import('../src/optional/areas');

    return Observer.all[0];
}

beforeEach(() => {
    vi.useFakeTimers();
    vi.resetModules();
    Observer.all = [];
    told.mockClear();
    vi.stubGlobal('IntersectionObserver', Observer);
    window.pellix = told as unknown as typeof window.pellix;
    document.body.innerHTML = '<div id="offer">x</div>';
});
afterEach(() => {
    vi.clearAllTimers();
    vi.useRealTimers();
    vi.unstubAllGlobals();
    delete window.pellixSite;
    delete window.pellix;
    history.replaceState({}, '', '/');
});

const offer = (): Element => document.getElementById('offer')!;

it('tells of a part once a page view, after a second without a break of half of it', async () => {
    const observer = await watch('#offer');
    observer.see(offer(), 0.4);
    vi.advanceTimersByTime(5000);
    expect(told).not.toHaveBeenCalled();
    observer.see(offer(), 0.6);
    vi.advanceTimersByTime(900);
    observer.see(offer(), 0.2);
    vi.advanceTimersByTime(5000);
    expect(told).not.toHaveBeenCalled();
    observer.see(offer(), 0.5);
    observer.see(offer(), 0.9);
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledExactlyOnceWith('event', 'area_seen', { area: '#offer' });
    observer.see(offer(), 0);
    observer.see(offer(), 1);
    vi.advanceTimersByTime(5000);
    expect(told).toHaveBeenCalledTimes(1);
    // Another view of the application.
    history.pushState({}, '', '/next');
    vi.advanceTimersByTime(1000);
    observer.see(offer(), 1);
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledTimes(2);
});

it('tells of what fills half of the window, though it is less than half of it', async () => {
    const observer = await watch('#offer');
    observer.see(offer(), 0.1, innerHeight / 2);
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledTimes(1);
});

it('finds what comes late, and is not bothered by a selector that the browser does not know', async () => {
    document.body.innerHTML = '';
    const observer = await watch('p[', '#late');
    document.body.innerHTML = '<p id="late">x</p>';
    vi.advanceTimersByTime(1000);
    observer.see(document.getElementById('late')!, 1);
    vi.advanceTimersByTime(1000);
    expect(told).toHaveBeenCalledExactlyOnceWith('event', 'area_seen', { area: '#late' });
});

it('does nothing where no goal counts a part', async () => {
    window.pellixSite = {} as Configuration;
    await import('../src/optional/areas');
    expect(Observer.all).toEqual([]);
});

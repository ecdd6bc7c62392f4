/** A page in jsdom with the runtime on it, and a collector that listens: imported by the tests of the whole runtime. */
import { afterEach, beforeEach, vi } from 'vitest';
import type { Configuration, Experiment } from '../src/types';
import { CONFIGURATION } from './configuration';

export interface Sent {
    name: string;
    id: string;
    visitor: string;
    url: string;
    props: Record<string, unknown>;
}

export const EXPERIMENT: Experiment = {
    key: 'x',
    salt: 's',
    share: 1,
    pages: { fact: 'url.path', op: 'is', value: '/join' },
    variants: [
        {
            key: 'b',
            end: 1,
            changes: [
                { kind: 'text', selector: 'h1', value: 'New <b>words</b>' },
                { kind: 'style', selector: '.late', property: 'color', value: 'red' },
            ],
        },
    ],
};

export let sent: Sent[];
/** The runtime of one page must not watch the next, nor hear of its leaving. */
const listeners: [EventTarget, string, EventListenerOrEventListenerObject, unknown][] = [];
for (const target of [window, document]) {
    const listen = target.addEventListener.bind(target) as (...given: unknown[]) => void;
    target.addEventListener = (...given: unknown[]) => {
        listeners.push([target, given[0] as string, given[1] as EventListenerOrEventListenerObject, given[2]]);
        listen(...given);
    };
}
const observers: MutationObserver[] = [];
const Original = MutationObserver;
window.MutationObserver = class extends Original {
    constructor(callback: MutationCallback) {
        super(callback);
        observers.push(this);
    }
};
export function closePage(): void {
    listeners
        .splice(0)
        .forEach(([target, type, listener, options]) => target.removeEventListener(type, listener, options as EventListenerOptions));
    observers.splice(0).forEach((observer) => observer.disconnect());
    vi.clearAllTimers();
    // The runtime's own versions of these lie over those of the prototype.
    delete (history as Partial<History>).pushState;
    delete (history as Partial<History>).replaceState;
    delete window.pellix;
}
let accept: boolean;

/** Whether the collector takes what it is sent. */
export function takes(on: boolean): void {
    accept = on;
}

/** Loads the runtime as the published file does: the configuration first. */
export async function load(change: Partial<Configuration> = {}): Promise<void> {
    window.pellixSite = {
        ...CONFIGURATION,
        collector: 'http://p.test/c',
        experiments: [EXPERIMENT],
        ...change,
    };
    vi.resetModules();
    await import('../src/optional/media');
    await import('../src/optional/script');
    await import('../src/optional/redirect');
    await import('../src/main');
}

export const names = (): string[] => sent.map((event) => event.name);

beforeEach(() => {
    vi.useFakeTimers();
    sent = [];
    accept = true;
    const take = (body: unknown): boolean => {
        if (accept) {
            sent.push(...(JSON.parse(body as string).events as Sent[]));
        }
        return accept;
    };
    navigator.sendBeacon = (_: string | URL, body?: BodyInit | null) => take(body);
    window.fetch = (_: unknown, init?: RequestInit) => {
        const ok = take(init?.body);

        return Promise.resolve({ ok, status: ok ? 200 : 503, text: () => Promise.resolve('') } as Response);
    };
    document.body.innerHTML = '<h1>Old</h1>';
    history.replaceState({}, '', '/join');
});

afterEach(() => {
    closePage();
    vi.useRealTimers();
    delete window.pellixSite;
    localStorage.clear();
    sessionStorage.clear();
    for (const name of ['plx_visitor', 'plx_variants', 'plx_consent', 'plx_me', 'plx_from']) {
        document.cookie = `${name}=; Max-Age=0; Path=/`;
    }
    vi.restoreAllMocks();
});

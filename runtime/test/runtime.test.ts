import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Configuration, Experiment, Tag } from '../src/types';
import { CONFIGURATION } from './configuration';

interface Sent {
    name: string;
    id: string;
    visitor: string;
    url: string;
    props: Record<string, unknown>;
}

const EXPERIMENT: Experiment = {
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

let sent: Sent[];
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
function closePage(): void {
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

/** Loads the runtime as the published file does: the configuration first. */
async function load(change: Partial<Configuration> = {}): Promise<void> {
    window.pellixSite = {
        ...CONFIGURATION,
        collector: 'http://p.test/c',
        experiments: [EXPERIMENT],
        ...change,
    };
    vi.resetModules();
    await import('../src/main');
}

const names = (): string[] => sent.map((event) => event.name);

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
    for (const name of ['plx_visitor', 'plx_variants', 'plx_consent', 'plx_me']) {
        document.cookie = `${name}=; Max-Age=0; Path=/`;
    }
    vi.restoreAllMocks();
});

describe('the runtime', () => {
    it('sends page view and exposure together, and changes texts as texts', async () => {
        await load();
        vi.advanceTimersByTime(300);
        expect(names()).toEqual(['page_view', 'exposure']);
        expect(sent[1].props).toMatchObject({ experiment: 'x', variant: 'b' });
        expect(document.querySelector('h1')?.textContent).toBe('New <b>words</b>');
        expect(document.querySelector('h1 b')).toBeNull();
    });

    it('changes an element that appears late, and says so once all changes are made', async () => {
        await load();
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).not.toContain('change_applied');
        document.body.insertAdjacentHTML('beforeend', '<p class="late">x</p>');
        await Promise.resolve();
        await vi.advanceTimersByTimeAsync(300);
        const late = document.querySelector<HTMLElement>('.late');
        expect(late?.style.getPropertyValue('color')).toBe('red');
        expect(late?.style.getPropertyPriority('color')).toBe('important');
        expect(names().filter((name) => name === 'change_applied')).toHaveLength(1);
    });

    it('reports on leaving which elements never appeared', async () => {
        await load();
        dispatchEvent(new Event('pagehide'));
        expect(sent.find((event) => event.name === 'change_missed')?.props.selectors).toEqual(['.late']);
        dispatchEvent(new Event('pagehide'));
        expect(names().filter((name) => name === 'change_missed')).toHaveLength(1);
    });

    it('keeps the visitor and the variant it first got', async () => {
        await load();
        vi.advanceTimersByTime(300);
        const first = sent[0].visitor;
        await vi.advanceTimersByTimeAsync(300);
        expect(first).toMatch(/^[a-z0-9]{26}$/);
        closePage();
        sent = [];
        const reweighted = [{ key: 'other', end: 1, changes: [] }, ...EXPERIMENT.variants];
        await load({ experiments: [{ ...EXPERIMENT, share: 0, variants: reweighted }] });
        vi.advanceTimersByTime(300);
        expect(sent[0].visitor).toBe(first);
        expect(sent[1].props.variant).toBe('b');
    });

    it('enters nobody where cookies are refused, and says so', async () => {
        vi.spyOn(document, 'cookie', 'get').mockReturnValue('');
        await load();
        vi.advanceTimersByTime(300);
        expect(names()).toEqual(['page_view']);
        expect(sent[0].props).toEqual({ storage: 'none' });
        expect(document.querySelector('h1')?.textContent).toBe('Old');
    });

    it('leaves other pages and copies on foreign hosts as they are', async () => {
        await load({ hosts: ['elsewhere.test'] });
        vi.advanceTimersByTime(300);
        expect(names()).toEqual(['page_view']);
        closePage();
        history.replaceState({}, '', '/other');
        await load();
        vi.advanceTimersByTime(300);
        expect(names()).toEqual(['page_view', 'page_view']);
    });

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

    it('tries again later what the browser would not take', async () => {
        accept = false;
        await load();
        await vi.advanceTimersByTimeAsync(300);
        expect(sent).toHaveLength(0);
        accept = true;
        await vi.advanceTimersByTimeAsync(6000);
        expect(names()).toEqual(['page_view', 'exposure']);
        await vi.advanceTimersByTimeAsync(60_000);
        expect(names().filter((name) => name === 'exposure')).toHaveLength(1);
        expect(localStorage.getItem('plx_unsent')).toBeNull();
    });

    it('sends from the next page what this one could not', async () => {
        accept = false;
        await load();
        dispatchEvent(new Event('pagehide'));
        expect(sent).toHaveLength(0);
        closePage();
        accept = true;
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

    it('counts a page view for each address of an application on a single page, and stops changes of the page before', async () => {
        await load();
        history.pushState({}, '', '/other?x=1');
        history.pushState({}, '', '/other?x=1#part');
        history.replaceState({}, '', '/other?x=1#/view');
        document.body.innerHTML = '<h1>Another</h1>';
        await Promise.resolve();
        await vi.advanceTimersByTimeAsync(300);
        const views = (sent as (Sent & { referrer: string })[]).filter((event) => event.name === 'page_view');
        expect(views.map((event) => event.url.replace(/^https?:\/\/[^/]+/, ''))).toEqual(['/join', '/other?x=1', '/other?x=1#/view']);
        expect(views[1].referrer).toMatch(/\/join$/);
        expect(document.querySelector('h1')?.textContent).toBe('Another');
        expect(names().filter((name) => name === 'change_missed')).toHaveLength(1);
    });

    it('sends clicks, forms without their fields, and pushes of the data layer', async () => {
        document.body.innerHTML =
            '<main class="wide a.b"><a id="x" href="/next?mail=me@x.example"><b>go</b></a><form id="f" action="/done"><input name="secret" value="s3cret"></form></main>';
        document.querySelector('a')?.addEventListener('click', (event) => event.preventDefault());
        document.querySelector('form')?.addEventListener('submit', (event) => event.preventDefault());
        (window as unknown as Record<string, unknown>).shelf = [{ event: 'early' }];
        await load({
            dataLayer: 'shelf',
            dataEvents: [{ push: 'booked', name: 'bench_booked', props: { deposit: 'booking.deposit', none: 'a.b' } }],
        });
        document.querySelector('b')?.dispatchEvent(new MouseEvent('click', { bubbles: true, cancelable: true }));
        document.querySelector('form')?.dispatchEvent(new Event('submit', { bubbles: true, cancelable: true }));
        ((window as unknown as Record<string, unknown>).shelf as unknown[]).push({ event: 'booked', booking: { deposit: 15 } });
        vi.advanceTimersByTime(300);
        const of = (name: string) => sent.find((event) => event.name === name)?.props;
        expect(of('click')).toEqual({
            path: 'html>body>main.wide.a_b>a#x>b',
            href: 'http://localhost:3000/next?mail=[email]',
            masked: true,
        });
        expect(of('form_submit')).toEqual({ path: 'html>body>main.wide.a_b>form#f', action: '/done', method: 'get' });
        expect(of('bench_booked')).toEqual({ deposit: 15 });
        expect(JSON.stringify(sent)).not.toContain('s3cret');
    });

    it('tells engaged seconds and how far the page was scrolled', async () => {
        await load();
        await vi.advanceTimersByTimeAsync(12_000);
        dispatchEvent(new Event('scroll'));
        dispatchEvent(new Event('pagehide'));
        expect(sent.filter((event) => event.name === 'engaged').map((event) => event.props.seconds)).toEqual([10, 12]);
        expect(sent.filter((event) => event.name === 'scroll').map((event) => event.props.percent)).toEqual([100]);
        expect(sent.filter((event) => event.name === 'engaged')[0].props.view).toBe(sent[0].id);
    });

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

    it('starts an experiment on a late event', async () => {
        await load({ experiments: [{ ...EXPERIMENT, trigger: { kind: 'event', name: 'opened' } }] });
        vi.advanceTimersByTime(300);
        expect(names()).toEqual(['page_view']);
        window.pellix?.('event', 'opened');
        window.pellix?.('event', 'opened');
        await vi.advanceTimersByTimeAsync(300);
        expect(names().filter((name) => name === 'exposure')).toHaveLength(1);
        expect(document.querySelector('h1')?.textContent).toBe('New <b>words</b>');
    });

    it("gives the visitor id away, takes a user id and an order, and carries the mark of a person's own visits", async () => {
        history.replaceState({}, '', '/join?plx_me=abc123');
        await load();
        let id = '';
        window.pellix?.('visitor', (given: string) => (id = given));
        window.pellix?.('user', 42);
        window.pellix?.('order', { order_id: 'G-1', value: 24.5, currency: 'EUR' });
        vi.advanceTimersByTime(300);
        const order = sent.find((event) => event.name === 'order') as Sent & { user: string };
        expect(id).toBe(sent[0].visitor);
        expect(order.user).toBe('42');
        expect(order.props).toEqual({ me: 'abc123', order_id: 'G-1', value: 24.5, currency: 'EUR' });
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
        accept = false;
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
        accept = true;
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
        sent = [];
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

describe('who is let into an experiment', () => {
    it('is decided by the audience as well as the page, and by the event that it may ask about', async () => {
        await load({ experiments: [{ ...EXPERIMENT, audience: { fact: 'url.query.plan', op: 'is', value: 'plus' } }] });
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).toEqual(['page_view']);
        history.pushState({}, '', '/join?plan=plus');
        await vi.advanceTimersByTimeAsync(300);
        expect(names()).toEqual(['page_view', 'page_view', 'exposure']);
    });

    it('is the user where the unit is the user: nobody before signing in, the same variant for the same id, none kept', async () => {
        const half: Experiment = {
            ...EXPERIMENT,
            unit: 'user',
            variants: ['a', 'b'].map((key, i) => ({ key, end: 0.5 + i / 2, changes: [] })),
        };
        const got = new Map<string, unknown>();
        for (const user of ['u1', 'u2', 'u3', 'u4', 'u5', 'u6', 'u7', 'u8', 'u1', 'u5', 'u8']) {
            document.cookie = 'plx_visitor=; Max-Age=0; Path=/';
            await load({ experiments: [half] });
            await vi.advanceTimersByTimeAsync(300);
            expect(names()).toEqual(['page_view']);
            window.pellix?.('user', user);
            await vi.advanceTimersByTimeAsync(300);
            expect(sent[1]).toMatchObject({ name: 'exposure', user, props: { unit: 'user' } });
            expect(got.get(user) ?? sent[1].props.variant).toBe(sent[1].props.variant);
            got.set(user, sent[1].props.variant);
            closePage();
            sent = [];
        }
        expect(new Set(got.values()).size).toBe(2);
        expect(document.cookie).not.toContain('plx_variants');
    });

    it('keeps a variant for its days, and then takes what the plan gives now, which is kept as long', async () => {
        const only = (key: string): Experiment => ({ ...EXPERIMENT, lifetimeDays: 30, variants: [{ key, end: 1, changes: [] }] });
        const both = (end: number): Experiment => ({
            ...only('a'),
            variants: [
                { key: 'a', end, changes: [] },
                { key: 'b', end: 1, changes: [] },
            ],
        });
        const visit = async (day: number, experiment: Experiment): Promise<unknown> => {
            vi.setSystemTime(Date.UTC(2026, 2, 1 + day));
            sent = [];
            await load({ experiments: [experiment], cookieSeconds: 400 * 86_400 });
            await vi.advanceTimersByTimeAsync(300);
            closePage();

            return sent.find(({ name }) => name === 'exposure')?.props.variant;
        };
        expect(await visit(0, only('a'))).toBe('a');
        expect(await visit(29, both(0))).toBe('a');
        expect(await visit(31, both(0))).toBe('b');
        expect(await visit(60, both(1))).toBe('b');
        expect(await visit(61, both(1))).toBe('a');
        expect(await visit(90, both(0))).toBe('a');
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

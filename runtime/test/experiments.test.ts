import { describe, expect, it, vi } from 'vitest';
import type { Experiment } from '../src/types';
import { closePage, EXPERIMENT, load, names, sent } from './visit';

describe('an experiment on a page', () => {
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

    it('lets in by what the page has pushed before the snippet, and by what it pushes later', async () => {
        const asking: Experiment = { ...EXPERIMENT, audience: { fact: 'data.member', op: 'is', value: 'gold' } };
        const page = window as unknown as { shelf?: unknown[] };
        for (const [before, later, exposed] of [
            [[{ member: 'gold' }], [], 1],
            [[], [{ member: 'gold' }], 1],
            [[{ member: 'gold' }], [{ member: 'gold' }, { other: 1 }], 1],
            [[{ member: 'tin' }], [{ other: 1 }], 0],
        ] as [unknown[], unknown[], number][]) {
            closePage();
            sent.length = 0;
            page.shelf = [...before];
            await load({ experiments: [asking], dataLayer: 'shelf' });
            later.forEach((push) => page.shelf?.push(push));
            await vi.advanceTimersByTimeAsync(300);
            expect(names().filter((name) => name === 'exposure')).toHaveLength(exposed);
            expect(names()[0]).toBe('page_view');
        }
        delete page.shelf;
    });

    it('keeps the visitor and the variant it first got', async () => {
        await load();
        vi.advanceTimersByTime(300);
        const first = sent[0].visitor;
        await vi.advanceTimersByTimeAsync(300);
        expect(first).toMatch(/^[a-z0-9]{26}$/);
        closePage();
        sent.length = 0;
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
            sent.length = 0;
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
            sent.length = 0;
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

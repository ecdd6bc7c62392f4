import { beforeEach, expect, it } from 'vitest';
import { CONFIGURATION } from '../../runtime/test/configuration';
import { consent, keepConsent } from '../../runtime/src/consent';
import type { Page } from '../../runtime/src/page';
import type { Facts } from '../../runtime/src/rules';
import type { Experiment } from '../../runtime/src/types';
import { eraseVisitor, visitor } from '../../runtime/src/visitor';
import { keeping } from '../../runtime/src/keeping';
import { entryOf } from '../src/look/entry';
import { traced } from '../src/look/trace';
import { agree, agreed, freshJar, giveVariant, realCookies, takeJar } from '../src/preview/jar';
import { withChosen } from '../src/preview/run';
import { keep, ticket, withTicket, type Ticket } from '../src/ticket';

const EXPERIMENT: Experiment = {
    key: 'x',
    salt: 's',
    share: 0.1,
    unit: 'user',
    group: { key: 'g', from: 0.5 },
    pages: { fact: 'url.path', op: 'is', value: '/join' },
    audience: { fact: 'device', op: 'is', value: 'phone' },
    variants: [
        { key: 'a', end: 0.5, changes: [] },
        { key: 'b', end: 1, changes: [], moves: true },
    ],
};

function made(change: Partial<Ticket> = {}): Ticket {
    history.replaceState(null, '', `/join#plx-loupe=${'t'.repeat(43)}`);

    return { ...ticket()!, ...change };
}

beforeEach(() => {
    sessionStorage.clear();
    localStorage.clear();
    document.cookie.split('; ').forEach((one) => (document.cookie = `${one.split('=')[0]}=; Max-Age=0; Path=/`));
});

it('takes its token out of the address and leaves the rest', () => {
    for (const [before, after] of [
        ['#plx-loupe=abc', ''],
        ['#terms&plx-loupe=abc', '#terms'],
        ['#plx-loupe=abc&terms', '#terms'],
        ['#a=1&plx-loupe=abc&b=2', '#a=1&b=2'],
    ]) {
        history.replaceState({ own: 1 }, '', `/join?q=1${before}`);
        expect(ticket()?.token).toBe('abc');
        expect(location.pathname + location.search + location.hash).toBe(`/join?q=1${after}`);
        expect(history.state).toEqual({ own: 1 });
    }
    expect(ticket()).toBeNull();
    keep(made({ tab: 'look' }));
    expect(ticket()?.tab).toBe('look');
    sessionStorage.plx_loupe = '{"token":7}';
    expect(ticket()).toBeNull();
    sessionStorage.plx_loupe = 'nonsense';
    expect(ticket()).toBeNull();
    expect(withTicket('https://desk.shop.test/book#at', made())).toBe(`https://desk.shop.test/book#at&plx-loupe=${'t'.repeat(43)}`);
});

it('keeps what the runtime keeps in a jar of its own, and touches neither cookies nor storage of the visitor', () => {
    document.cookie = 'plx_visitor=aaaaaaaaaaaaaaaaaaaaaaaaaa';
    document.cookie = 'site=own';
    localStorage.plx_tag_note = '1';
    const one = made({ who: 'new' });
    giveVariant(one, 'x', 'b');
    giveVariant(one, 'x', 'a');
    giveVariant(one, 'y', 'c');
    let saved = 0;
    takeJar(one, () => saved++);
    const before = document.cookie;
    const person = visitor(CONFIGURATION);
    expect(person.id).not.toBe('aaaaaaaaaaaaaaaaaaaaaaaaaa');
    expect([person.returning, person.lasting, person.variant('x'), person.variant('y')]).toEqual([false, true, 'a', 'c']);
    person.keep('z', 'd');
    person.save();
    keeping.storage('localStorage').setItem('plx_tag_other', '1');
    expect(keeping.storage('localStorage').getItem('plx_tag_note')).toBeNull();
    expect(keeping.cookies()).toContain('site=own');
    keepConsent(CONFIGURATION, ['marketing']);
    expect(consent()).toEqual(['marketing']);
    expect(one.jar!.cookies).toEqual({ plx_consent: 'marketing' });
    eraseVisitor(CONFIGURATION);
    expect(keeping.storage('localStorage').getItem('plx_tag_other')).toBeNull();
    expect(document.cookie).toBe(before);
    expect({ ...localStorage }).toEqual({ plx_tag_note: '1' });
    expect(saved).toBeGreaterThan(3);
    // As this browser is: what it has is read once, and not written to.
    expect(freshJar('own').cookies).toEqual({ plx_visitor: 'aaaaaaaaaaaaaaaaaaaaaaaaaa' });
    expect(Object.keys(freshJar('returning').cookies)).toEqual(['plx_visitor']);
    expect(realCookies()).toEqual({ plx_visitor: 'aaaaaaaaaaaaaaaaaaaaaaaaaa', site: 'own' });
    agree(one, null);
    expect(agreed(one)).toBeNull();
    agree(one, []);
    expect(agreed(one)).toEqual([]);
});

it('gives whoever has chosen a variant that one, on its pages alone', () => {
    const [chosen] = withChosen([EXPERIMENT], { x: 'b' });
    expect(chosen).toMatchObject({ key: 'x', share: 1, pages: EXPERIMENT.pages });
    expect([chosen.audience, chosen.unit, chosen.group, chosen.variants[1].moves]).toEqual([undefined, undefined, undefined, false]);
    expect(withChosen([EXPERIMENT], { y: 'b' })).toEqual([EXPERIMENT]);
});

it('says which condition of a rule holds, and what it found', () => {
    const facts: Facts = (fact) => (fact === 'url.path' ? '/join' : null);
    const rule = {
        all: [{ fact: 'url.path', op: 'is', value: '/join' }, { not: { any: [{ fact: 'device', op: 'is', value: 'phone' }] } }],
    };
    expect(traced(rule, facts)).toEqual({
        words: 'all of',
        holds: true,
        found: null,
        parts: [
            { words: 'url.path is "/join"', holds: true, found: '"/join"', parts: [] },
            {
                words: 'not',
                holds: true,
                found: null,
                parts: [
                    {
                        words: 'any of',
                        holds: false,
                        found: null,
                        parts: [{ words: 'device is "phone"', holds: false, found: null, parts: [] }],
                    },
                ],
            },
        ],
    });
});

it('names the first reason for which somebody is not in an experiment', () => {
    const page = (facts: Record<string, string>, user: string | null, shown: unknown[] = []): Page =>
        ({ facts: () => (fact: string) => facts[fact] ?? null, user, id: 'v1', experiments: { shown } }) as unknown as Page;
    const here = { ...CONFIGURATION, hosts: [location.hostname] };
    const why = (experiment: Experiment, at: Page | null, configuration = here): string => entryOf(experiment, configuration, at).why;
    const onPage = { 'url.path': '/join', device: 'phone' };
    expect(why(EXPERIMENT, null)).toContain('has not agreed');
    expect(why(EXPERIMENT, page(onPage, 'u'), { ...here, hosts: ['elsewhere.test'] })).toContain('is none of the site’s');
    expect(why(EXPERIMENT, page({}, 'u'))).toBe('It is not for this page.');
    expect(why(EXPERIMENT, page({ 'url.path': '/join' }, 'u'))).toContain('none of its audience');
    expect(why(EXPERIMENT, page(onPage, null))).toContain('nobody has signed in');
    expect(why({ ...EXPERIMENT, share: 0 }, page(onPage, 'u'))).toContain('another experiment of the group');
    expect(why({ ...EXPERIMENT, share: 0, group: undefined, unit: undefined }, page(onPage, 'u'))).toContain('beyond the share');
    expect(why({ ...EXPERIMENT, share: 1, group: undefined, trigger: { kind: 'click', selector: '#go' } }, page(onPage, 'u'))).toContain(
        'click on #go',
    );
    const entry = entryOf(EXPERIMENT, here, page(onPage, 'u', [{ experiment: EXPERIMENT, variant: 'b' }]));
    expect([entry.variant, entry.why]).toEqual(['b', 'The visitor is in it.']);
});

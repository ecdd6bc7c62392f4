import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { findPlaces, placesOf } from '../app/places';
import { countInWords, duration, fieldsOf, goalInWords, KINDS, type GoalKind } from '../measures/goalWords';
import type { LinkState } from '../api/client';
import { severity } from '../parts/chain';
import { count, decimal, percent, plural, pValue, signedPercent } from '../parts/figures';
import { takeApart } from '../parts/rules';
import { TRIGGER_KINDS } from '../parts/vocabulary';
import { newTrigger, triggerInWords, type Trigger } from '../wiring/tagWords';

const plain = (text: string): string => text.replace(/\u202f/g, ' ');

describe('figures', () => {
    it('are written with narrow spaces between thousands', () => {
        expect([0, 7, 999, 1000, 1234567].map((n) => plain(count(n)))).toEqual(['0', '7', '999', '1 000', '1 234 567']);
        expect(plain(decimal(-1251.2, 2))).toBe('−1 251.20');
        expect(plain(decimal(0.005, 2))).toBe('0.01');
    });

    it('are percentages with their sign where one is meant', () => {
        expect([percent(0.123), percent(null), percent(1, 0), signedPercent(-0.061), signedPercent(0.5)].map(plain)).toEqual([
            '12.3 %',
            '–',
            '100 %',
            '−6.1 %',
            '+50.0 %',
        ]);
    });

    it('keep their noun in number', () => {
        expect([plural(0, 'hit'), plural(1, 'hit'), plain(plural(1200, 'hit'))]).toEqual(['0 hits', '1 hit', '1 200 hits']);
    });

    it('tell p-values that no number can hold by their logarithm', () => {
        expect([pValue(0.04, -3.2), pValue(1.8e-6, -13.2), pValue(0, -1000), pValue(0, null)]).toEqual([
            '= 0.040',
            '= 1.8e-6',
            '= 10^-434',
            '= 0',
        ]);
    });
});

describe('a pasted address', () => {
    const hosts = ['a.test', 'desk.a.test'];

    it.each([
        ['/join', { value: '/join' }],
        [' /join ', { value: '/join' }],
        ['https://a.test/join/done', { value: '/join/done', note: "a.test is one of this site's hosts; the path was kept." }],
        [
            'http://DESK.a.test:8080/b?x=1#y',
            {
                value: '/b',
                note: "desk.a.test is one of this site's hosts; the path was kept, the query ?x=1 and the fragment #y left out.",
            },
        ],
    ])('is taken apart: %s', (typed, wanted) => {
        expect(takeApart(typed, hosts)).toEqual(wanted);
    });

    it('is questioned where its host is none of the site’s, or where it is none', () => {
        expect(takeApart('https://elsewhere.test/x', hosts).error).toContain("none of this site's (a.test, desk.a.test)");
        expect(takeApart('https://', hosts).error).toContain('no complete address');
    });
});

describe('goals in words', () => {
    const page = { fact: 'url.path', op: 'is', value: '/done' };

    it.each<[Schemas['GoalFields'], string]>([
        [{ kind: 'page', pages: page }, 'page reached where path is exactly /done'],
        [{ kind: 'click', selector: '#buy', pages: { all: [] } }, 'click on #buy'],
        [{ kind: 'form', selector: 'form.loan' }, 'form form.loan sent'],
        [
            { kind: 'event', event: 'joined', when: { fact: 'event.props.months', op: 'gte', value: 12 } },
            'event joined with property months is at least 12',
        ],
        [{ kind: 'order' }, 'order'],
        [{ kind: 'seen', selector: '#offer' }, '#offer seen'],
        [{ kind: 'engaged', seconds: 30 }, '30 s engaged on a page'],
        [{ kind: 'scroll', percent: 75, pages: page }, 'page scrolled to 75 % where path is exactly /done'],
        [{ kind: 'any_click' }, 'anything on a page is clicked'],
        [
            {
                kind: 'steps',
                within: 900,
                steps: [
                    { kind: 'page', pages: page },
                    { kind: 'order', optional: true },
                ],
            },
            'page reached where path is exactly /done, then order (may be left out), within 15 min',
        ],
    ])('%j', (goal, words) => {
        expect(goalInWords(goal)).toBe(words);
    });

    it('count as they say, and every time where they say nothing', () => {
        expect([countInWords({ count: 'visitor' }), countInWords({})]).toEqual(['once a visitor', 'every time']);
        expect([duration(90), duration(120), duration(2 * 86400)]).toEqual(['90 s', '2 min', '2 d']);
    });

    it('begin with what their kind needs, and keep what they had', () => {
        for (const kind of Object.keys(KINDS) as GoalKind[]) {
            const fields = fieldsOf(kind, { count: 'session', pages: page, currency: 'EUR' });
            expect(fields.kind).toBe(kind);
            expect(fields.count).toBe('session');
            expect(goalInWords(fields)).not.toBe('');
        }
        expect(fieldsOf('click', { kind: 'form', selector: '#a' }).selector).toBe('#a');
        expect(fieldsOf('page', { kind: 'click', selector: '#a' })).not.toHaveProperty('selector');
    });
});

describe('triggers in words', () => {
    const pages = { fact: 'url.path', op: 'is', value: '/loan' };

    it.each<[Trigger, string]>([
        [{ kind: 'page', pages }, 'page opened, where path is exactly /loan'],
        [
            { kind: 'event', name: 'opened', when: { fact: 'event.props.n', op: 'gt', value: 1 } },
            'event opened with property n is more than 1',
        ],
        [{ kind: 'click', selector: '#go' }, 'click on #go'],
        [{ kind: 'form', selector: '#loan' }, 'form #loan sent'],
        [{ kind: 'time', seconds: 30, pages }, '30 s on the page, where path is exactly /loan'],
        [{ kind: 'scroll', percent: 50 }, 'scrolled to 50 %'],
        [{ kind: 'element', selector: 'nav' }, 'nav is on the page'],
        [{ kind: 'data', when: { fact: 'data.event', op: 'is', value: 'booked' } }, 'push with data layer event is exactly booked'],
    ])('%j', (trigger, words) => {
        expect(triggerInWords(trigger)).toBe(words);
    });

    it('begin with what their kind needs', () => {
        for (const kind of Object.keys(TRIGGER_KINDS) as Trigger['kind'][]) {
            expect(newTrigger(kind, { kind: 'page', pages })).toMatchObject({ kind, pages });
        }
    });
});

it('puts the worse chain first', () => {
    const chain = (...states: LinkState[]) => states.map((state) => ({ state }));
    const places = [chain('holds', 'holds'), chain('holds', 'doubt'), chain('stale'), chain('broken', 'holds'), chain('unseen')].map(
        severity,
    );
    expect(places).toEqual([4, 2, 3, 0, 1]);
});

describe('finding', () => {
    const places = placesOf('s', {
        experiments: [{ key: 'loan-steps', name: 'Fewer steps' }],
        goals: [{ key: 'joined', name: 'Joined the library' }],
        tags: [{ key: 'counter', name: 'Visit counter' }],
        events: [{ name: 'brochure_opened' }],
        people: [
            {
                id: 3,
                name: 'Ada Quill',
                email: 'ada@larkhollow.example',
                right: 'look',
                closed: false,
                is_you: false,
                uses_codes: false,
                owns: 0,
            },
        ],
        pages: [{ id: 7, url: 'https://a.test/shelf' }],
        sites: [
            { key: 's', name: 'This one' },
            { key: 't', name: 'Another one' },
        ],
    });

    it.each([
        ['snip', 'Snippet and guard'],
        ['guard', 'Snippet and guard'],
        ['cover', 'Coverage'],
        ['goal def', 'Define a goal'],
        ['joined', 'Joined the library'],
        ['counter', 'Visit counter'],
        ['broch', 'brochure_opened'],
        ['quill', 'Ada Quill'],
        ['ada@', 'Ada Quill'],
        ['people', 'People'],
        ['shelf', 'https://a.test/shelf'],
        ['loan', 'Fewer steps'],
        ['another', 'Another one'],
        ['STEPS fewer', 'Fewer steps'],
    ])('knows “%s”', (words, label) => {
        expect(findPlaces(places, words)[0].label).toBe(label);
    });

    it('tells all places apart, and leaves out the site that one is on', () => {
        expect(new Set(places.map((place) => place.detail + place.to)).size).toBe(places.length);
        expect(findPlaces(places, 'this one')).toEqual([]);
        expect(findPlaces(places, 'no such thing')).toEqual([]);
    });
});

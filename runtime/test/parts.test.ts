import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { pathOf } from '../src/capture';
import { followData } from '../src/data';
import { eventFacts } from '../src/facts';
import { followRoute } from '../src/route';
import { matches, valueAt } from '../src/rules';
import { judge } from '../src/triggers';
import type { Trigger } from '../src/types';
import { consent, keepConsent } from '../src/consent';
import { marks, randomId, readCookie, visitor } from '../src/visitor';
import { CONFIGURATION } from './configuration';

function forget(): void {
    for (const name of ['plx_visitor', 'plx_variants', 'plx_consent', 'plx_me', 'other']) {
        document.cookie = `${name}=; Max-Age=0; Path=/`;
    }
    localStorage.clear();
}
beforeEach(forget);
afterEach(forget);

describe('a visitor', () => {
    it('gets a random id, keeps it, and is known as returning', () => {
        const first = visitor(CONFIGURATION);
        expect([first.lasting, first.returning]).toEqual([true, false]);
        const second = visitor(CONFIGURATION);
        expect([second.id, second.returning]).toEqual([first.id, true]);
    });

    it('gets a new id where the old one is none of ours', () => {
        document.cookie = 'plx_visitor=<script>; Path=/';
        expect(visitor(CONFIGURATION).id).toMatch(/^[a-z0-9]{26}$/);
    });

    it('keeps variants, the newest where there are too many', () => {
        const one = visitor(CONFIGURATION);
        for (let i = 0; i < 200; i++) {
            one.keep(`experiment-number-${i}`, 'variant-with-a-name');
        }
        one.save();
        const again = visitor(CONFIGURATION);
        expect(again.variant('experiment-number-199')).toBe('variant-with-a-name');
        expect(again.variant('experiment-number-0')).toBeUndefined();
        expect((readCookie('plx_variants') ?? '').length).toBeLessThanOrEqual(3000);
    });

    it('is told apart from others by chance alone', () => {
        const ids = new Set(Array.from({ length: 500 }, randomId));
        expect(ids.size).toBe(500);
        const digits = [...ids].join('');
        for (const digit of 'abcdefghijklmnopqrstuvwxyz0123456789') {
            // 13 000 characters over 36: 361 of each, give or take six standard deviations.
            expect(Math.abs(digits.split(digit).length - 1 - 361)).toBeLessThan(115);
        }
    });

    it('agrees, refuses, and is forgotten on refusal', () => {
        expect(consent()).toBeNull();
        visitor(CONFIGURATION).keep('x', 'b');
        localStorage.setItem('plx_unsent', '[]');
        localStorage.setItem('somebody-elses', '1');
        keepConsent(CONFIGURATION, ['statistics', 'marketing']);
        expect(consent()).toEqual(['statistics', 'marketing']);
        expect(readCookie('plx_visitor')).toBeDefined();
        keepConsent(CONFIGURATION, []);
        expect(consent()).toEqual(['none']);
        expect(readCookie('plx_visitor')).toBeUndefined();
        expect([localStorage.getItem('plx_unsent'), localStorage.getItem('somebody-elses')]).toEqual([null, '1']);
    });

    it('carries a mark that was given in the address, and no other text', () => {
        history.replaceState({}, '', '/?plx_me=abc123&x=1');
        expect(marks(CONFIGURATION)).toEqual({ me: 'abc123' });
        history.replaceState({}, '', '/?plx_me=<b>');
        expect(marks(CONFIGURATION)).toEqual({ me: 'abc123' });
        history.replaceState({}, '', '/');
    });

    it('is one of own people until the address says otherwise', () => {
        history.replaceState({}, '', '/?a=1&plx_own=abcdefghij0123456789#x');
        expect(marks(CONFIGURATION)).toMatchObject({ plx_own: 'abcdefghij0123456789' });
        history.replaceState({}, '', '/elsewhere');
        expect(marks(CONFIGURATION)).toMatchObject({ plx_own: 'abcdefghij0123456789' });
        history.replaceState({}, '', '/?plx_own=0');
        expect(marks(CONFIGURATION)).not.toHaveProperty('plx_own');
        history.replaceState({}, '', '/');
        expect(marks(CONFIGURATION)).not.toHaveProperty('plx_own');
    });
});

describe('the path of an element', () => {
    it('is written with names, ids and classes, and nothing else', () => {
        document.body.innerHTML = '<main class="a b c d e"><p id="x.y>z"><b class="one two">t</b></p></main>';
        expect(pathOf(document.querySelector('b') as Element)).toBe('html>body>main.a.b.c.d>p#x_y_z>b.one.two');
    });

    it('begins near the element where it lies deep', () => {
        document.body.innerHTML = '<div>'.repeat(30) + '<b>x</b>';
        expect(pathOf(document.querySelector('b') as Element).split('>')).toHaveLength(10);
    });
});

describe('a data layer', () => {
    it('is followed from what is in it already, and keeps working for the page', () => {
        const holder = window as unknown as Record<string, unknown>;
        holder.shelf = [{ a: 1 }];
        const heard: unknown[] = [];
        followData('shelf', (push, all) => heard.push([push, { ...all }]));
        const length = (holder.shelf as unknown[]).push({ b: 2 }, 'text', null, [1], { a: 3 });
        expect(length).toBe(6);
        expect(heard).toEqual([
            [{ a: 1 }, { a: 1 }],
            [{ b: 2 }, { a: 1, b: 2 }],
            [{ a: 3 }, { a: 3, b: 2 }],
        ]);
        delete holder.shelf;
    });

    it('is made where the page has none yet', () => {
        const holder = window as unknown as Record<string, unknown>;
        const heard = vi.fn();
        followData('later', heard);
        (holder.later as unknown[]).push({ x: 1 });
        expect(heard).toHaveBeenCalledOnce();
        delete holder.later;
    });
});

it('follows the address of an application, but not to places on the page', () => {
    history.replaceState({}, '', '/a');
    const moved = vi.fn();
    followRoute(moved);
    history.pushState({}, '', '/b');
    history.pushState({}, '', '/b#place');
    history.replaceState({}, '', '/b?x=1');
    history.pushState({}, '', '/b?x=1#!/view');
    history.pushState({}, '', '/b?x=1#!/view');
    expect(moved.mock.calls.map(([before]) => (before as string).replace(/^https?:\/\/[^/]+/, ''))).toEqual(['/a', '/b#place', '/b?x=1']);
    delete (history as Partial<History>).pushState;
    delete (history as Partial<History>).replaceState;
});

describe('a value at a path', () => {
    it('is found in objects and lists, and never in what they inherit', () => {
        const values = { a: { b: ['x', { c: 7 }] }, 'a.b': 'flat', none: null, yes: false };
        expect(
            ['a.b', 'a.b.0', 'a.b.1.c', 'a.b.1', 'none', 'yes', 'constructor', 'a.b.length', 'toString.name'].map((path) =>
                valueAt(values, path),
            ),
        ).toEqual(['flat', 'x', 7, null, null, false, null, null, null]);
    });
});

describe('a trigger', () => {
    const facts = eventFacts({ name: 'opened', url: 'http://a.test/loan', props: { n: 2 }, referrer: null, agent: null });

    it.each<[Trigger, string, boolean | null]>([
        [{ kind: 'event', name: 'opened' }, 'event opened', true],
        [{ kind: 'event', name: 'closed' }, '', null],
        [
            { kind: 'event', name: 'opened', when: { fact: 'event.props.n', op: 'gt', value: 5 } },
            'event opened, but its condition does not hold',
            false,
        ],
        [
            { kind: 'event', name: 'opened', pages: { fact: 'url.path', op: 'is', value: '/join' } },
            'event opened, but the page rule does not match',
            false,
        ],
        [{ kind: 'page', pages: { all: [] } }, '', null],
    ])('judges an event: %j', (trigger, why, fires) => {
        const verdict = judge(trigger, { kind: 'event', name: 'opened' }, facts);
        expect(verdict).toEqual(fires === null ? null : { fires, why });
    });

    it('takes a pattern as PHP does, and no text that is too long for it', () => {
        const rule = { fact: 'url.path', op: 'matches', value: '^/lo' };
        expect(matches(rule, facts)).toBe(true);
        expect(matches(rule, (fact) => (fact === 'url.path' ? `/lo${'a'.repeat(1000)}` : null))).toBe(false);
        expect(matches({ fact: 'event.props.n', op: 'matches', value: '2' }, facts)).toBe(false);
    });
});

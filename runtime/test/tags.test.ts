import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Tags } from '../src/tags';
import type { Facts } from '../src/rules';
import { addressFacts, valueAt } from '../src/rules';
import type { Tag, Trigger } from '../src/types';

let fired: string[];

function tag(key: string, triggers: Trigger[], change: Partial<Tag> = {}): Tag {
    return {
        key,
        kind: 'script',
        code: `window.ran = [...(window.ran ?? []), '${key}']`,
        consent: 'necessary',
        once: 'page',
        triggers,
        ...change,
    };
}

function tags(list: Tag[], allowed = true): Tags {
    return new Tags(
        list,
        () => allowed,
        (one, why) => fired.push(`${one.key}: ${why}`),
    );
}

const facts = (props: Record<string, unknown> = {}, data: Record<string, unknown> = {}): Facts => {
    const address = addressFacts('http://a.test/join');

    return (fact) =>
        fact.startsWith('event.props.')
            ? valueAt(props, fact.slice(12))
            : fact.startsWith('data.')
              ? valueAt(data, fact.slice(5))
              : address(fact);
};
const JOIN = { fact: 'url.path', op: 'is', value: '/join' };
const LOAN = { fact: 'url.path', op: 'is', value: '/loan' };

beforeEach(() => {
    fired = [];
    document.head.innerHTML = '';
    document.body.innerHTML = '<form id="f"><button id="b"><i>x</i></button></form>';
    localStorage.clear();
    sessionStorage.clear();
});

describe('tags', () => {
    it('fire on what they wait for, and say why or why not', () => {
        const all = tags([
            tag('page', [{ kind: 'page', pages: JOIN }]),
            tag('elsewhere', [{ kind: 'page', pages: LOAN }]),
            tag('event', [{ kind: 'event', name: 'bought', when: { fact: 'event.props.n', op: 'gt', value: 1 } }]),
            tag('click', [{ kind: 'click', selector: '#b' }]),
            tag('form', [{ kind: 'form', selector: '#f' }]),
            tag('scroll', [{ kind: 'scroll', percent: 50 }]),
            tag('data', [{ kind: 'data', when: { fact: 'data.event', op: 'is', value: 'booked' } }]),
        ]);
        all.on({ kind: 'page' }, facts());
        all.on({ kind: 'event', name: 'bought' }, facts({ n: 1 }));
        all.on({ kind: 'event', name: 'bought' }, facts({ n: 2 }));
        all.on({ kind: 'click', element: document.querySelector('i') as Element }, facts());
        all.on({ kind: 'form', element: document.querySelector('form') as Element }, facts());
        all.on({ kind: 'scroll', percent: 40 }, facts());
        all.on({ kind: 'scroll', percent: 60 }, facts());
        all.on({ kind: 'data' }, facts({}, { event: 'booked' }));
        expect(fired).toEqual([
            'page: page view',
            'event: event bought',
            'click: click on #b',
            'form: form on #f',
            'scroll: scrolled to 50 %',
            'data: data layer push',
        ]);
        expect(all.trace.filter((one) => !one.fired).map((one) => `${one.tag}: ${one.why}`)).toEqual([
            'elsewhere: page view, but the page rule does not match',
            'event: event bought, but its condition does not hold',
        ]);
    });

    it('fire once a page, a session, a visitor, or every time', () => {
        const list = (['page', 'session', 'visitor', 'no'] as const).map((once) => tag(once, [{ kind: 'event', name: 'x' }], { once }));
        const happen = (all: Tags): void => all.on({ kind: 'event', name: 'x' }, facts());
        const first = tags(list);
        happen(first);
        happen(first);
        first.renew();
        happen(first);
        sessionStorage.clear();
        happen(tags(list));
        const times = (key: string): number => fired.filter((one) => one.startsWith(`${key}:`)).length;
        expect(['page', 'session', 'visitor', 'no'].map(times)).toEqual([3, 2, 1, 4]);
        expect(first.trace.some((one) => one.why.includes('it has fired once this page already'))).toBe(true);
    });

    it('wait for the tag that they come after', () => {
        const all = tags([
            tag('second', [{ kind: 'page', pages: JOIN }], { after: 'first' }),
            tag('first', [{ kind: 'event', name: 'x' }]),
        ]);
        all.on({ kind: 'page' }, facts());
        expect(fired).toEqual([]);
        all.on({ kind: 'event', name: 'x' }, facts());
        expect(fired).toEqual(['first: event x', 'second: page view, after first']);
    });

    it('keep still without consent', () => {
        const all = tags([tag('a', [{ kind: 'page', pages: JOIN }], { consent: 'marketing' })], false);
        all.on({ kind: 'page' }, facts());
        expect(fired).toEqual([]);
        expect(all.trace[0].why).toContain('the visitor has not agreed to marketing');
    });

    it('put HTML, its scripts and images onto the page, with the nonce of the snippet', () => {
        document.head.innerHTML = '<script data-pellix="x" nonce="n1"></script>';
        const images: string[] = [];
        vi.stubGlobal(
            'Image',
            class {
                set src(url: string) {
                    images.push(url);
                }
            },
        );
        const all = tags([
            tag('html', [{ kind: 'page', pages: JOIN }], {
                kind: 'html',
                code: '<p class="late">x</p><script data-k="1">window.z = 1</script>',
            }),
            tag('image', [{ kind: 'page', pages: JOIN }], { kind: 'image', code: 'https://c.test/c.gif' }),
        ]);
        all.on({ kind: 'page' }, facts());
        const script = document.querySelector<HTMLScriptElement>('script[data-k]');
        expect(document.querySelector('.late')).not.toBeNull();
        expect(script?.text).toBe('window.z = 1');
        expect(script?.nonce).toBe('n1');
        expect(images).toEqual(['https://c.test/c.gif']);
        vi.unstubAllGlobals();
    });

    it('survive a selector that no browser knows', () => {
        const all = tags([tag('a', [{ kind: 'click', selector: ':::' }])]);
        all.on({ kind: 'click', element: document.body }, facts());
        expect(fired).toEqual([]);
    });
});

import { expect, it } from 'vitest';
import type { Change } from '../../runtime/src/types';
import { isGenerated, weakness } from '../src/point/names';
import { passedOver, proposals } from '../src/point/selectors';
import { PAGES, type Saved } from './pages';

// As CSSOM writes an identifier (https://drafts.csswg.org/cssom/#serialize-an-identifier), which this document model does not know.
globalThis.CSS ??= {
    escape: (text: string) =>
        text.replace(/^(-?)(\d)/, (_, minus: string, digit: string) => `${minus}\\3${digit} `).replace(/[^\w\\ \u0080-\uffff-]/g, '\\$&'),
} as typeof CSS;

const FIRST = ['3xK9a', 'bdVaJa', '1q2w3e', 'x7Tq2', 'a1b2c3', 'kQ9zR'];
const AGAIN = ['9pLm2', 'hTrWx', '7z8y9x', 'm2Kd8', 'f6e5d4', 'wP3nB'];

function built(page: Saved, made: string[], more: string): Document {
    const known = new Map<string, string>();

    const document = new DOMParser().parseFromString(
        `<!DOCTYPE html><body>${page.html((name) => known.set(name, known.get(name) ?? made[known.size % made.length]).get(name)!, more)}</body>`,
        'text/html',
    );
    // As browsers read them (https://html.spec.whatwg.org/multipage/scripting.html#attr-template-shadowrootmode), which this document model does not.
    document.querySelectorAll<HTMLTemplateElement>('template[shadowrootmode]').forEach((template) => {
        template.parentElement!.attachShadow({ mode: 'open' }).append(template.content);
        template.remove();
    });

    return document;
}

function pointedAt(page: Saved, document: Document): Element {
    const all = Array.from(document.querySelectorAll(page.tag)).filter((one) =>
        page.words === ''
            ? one.hasAttribute('data-own')
            : one.textContent!.trim().startsWith(page.words) && !one.textContent!.includes('too'),
    );
    expect(all).toHaveLength(1);
    // It marks what is meant for this test alone.
    all[0].removeAttribute('data-own');

    return all[0];
}

it.each(PAGES)('finds the same element when the page is built anew: $name', (page) => {
    const before = built(page, FIRST, '');
    const element = pointedAt(page, before);
    const [best] = proposals(element);
    expect(best.count).toBe(1);
    expect(Array.from(before.querySelectorAll(best.selector))).toEqual([element]);
    const after = built(page, AGAIN, 'more');
    const same = pointedAt(page, after);
    expect([best.selector, Array.from(after.querySelectorAll(best.selector))]).toEqual([best.selector, [same]]);
    // No selector that is offered has made-up letters in it.
    proposals(element).forEach(({ selector }) => FIRST.forEach((made) => expect(selector).not.toContain(made)));
});

it('finds the element that has a tree of its own where somebody points into the tree', () => {
    const page = PAGES.find(({ name }) => name.startsWith('an element with a tree'))!;
    const document = built(page, FIRST, '');
    const host = document.querySelector('[data-shop]')!;
    const [best] = proposals(host.shadowRoot!.querySelector('h2')!);
    expect(best).toMatchObject({ count: 1, sturdiness: 'data' });
    expect(best.why).toContain('no selector reaches into');
    expect(document.querySelector(best.selector)).toBe(host);
});

it('does not go by what a change of ours has put there', () => {
    const page = new DOMParser().parseFromString('<p class="note hot">One</p><p class="note" title="Two">Two</p>', 'text/html');
    const changes: Change[] = [
        { kind: 'class', selector: '.note', add: ['hot'] },
        { kind: 'attribute', selector: 'p', attribute: 'title', value: 'Two' },
    ];
    for (const element of Array.from(page.querySelectorAll('p'))) {
        proposals(element, changes).forEach(({ selector }) => expect(selector).not.toMatch(/hot|title/));
    }
    expect(proposals(page.querySelector('p')!)[0].selector).toBe('p.hot');
});

it('goes by position last, says so, and finds the element all the same', () => {
    const page = new DOMParser().parseFromString('<main><p>One</p><p>Two</p><p>Three</p></main>', 'text/html');
    const element = page.querySelectorAll('p')[1];
    const [best] = proposals(element);
    expect(best).toMatchObject({ count: 1, sturdiness: 'position' });
    expect(best.why).toContain('one more before it');
    expect(page.querySelector(best.selector)).toBe(element);
});

it('tells names from what a machine makes, what is a state and what is a style', () => {
    for (const name of [
        'header',
        'main-nav',
        'offer-title',
        'price__sum',
        'post-title',
        'step2',
        'loanForm',
        'newsletter_signup',
        'colophon',
        'h1',
        'year-2026',
        'iPhone',
        'FAQ-list',
        'checkout',
    ]) {
        expect([name, isGenerated(name)]).toEqual([name, false]);
    }
    for (const name of [
        'css-1q2w3e',
        'Header_link__3xK9a',
        'sc-bdVaJa',
        ':r1:',
        'x7Tq2b',
        'a1b2c3d4',
        'item-48213',
        '_3xK9a',
        'jsx-2871293847',
        'kxqzt',
    ]) {
        expect([name, isGenerated(name)]).toEqual([name, true]);
    }
    expect(weakness('is-open')).toContain('state');
    expect(weakness('active')).toContain('state');
    for (const name of ['mt-4', 'px-2', 'flex', 'md:w-1/2', 'text-sm', 'bg-teal-600', '-mt-1', 'hover:underline', 'w-[32px]']) {
        expect([name, weakness(name)?.includes('looks like')]).toEqual([name, true]);
    }
    const page = new DOMParser().parseFromString('<p id="kxqzt" class="lead mt-4">x</p>', 'text/html');
    expect(passedOver(page.querySelector('p')!).map(({ name }) => name)).toEqual(['kxqzt', 'mt-4']);
});

it('survives pages of any shape: every element of them can be found', () => {
    const odd =
        '<div id="a:b"><p class="1x .y"></p><svg><path d="M0 0"/></svg><x-y><template><b></b></template></x-y><p title=\'say "x" \\\\ y\'></p><p lang=""></p></div>';
    const page = new DOMParser().parseFromString(odd + '<ul>' + '<li><a>x</a></li>'.repeat(40) + '</ul>', 'text/html');
    for (const element of Array.from(page.querySelectorAll('*'))) {
        const [best] = proposals(element);
        expect([element.outerHTML.slice(0, 60), best?.count]).toEqual([element.outerHTML.slice(0, 60), 1]);
        expect(page.querySelector(best.selector)).toBe(element);
    }
});

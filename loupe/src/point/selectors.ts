import type { Change } from '../../../runtime/src/types';
import { isGenerated, weakness } from './names';

export type Sturdiness = 'id' | 'data' | 'attribute' | 'class' | 'place' | 'position';

export interface Proposal {
    selector: string;
    /** How many elements of the page it finds. */
    count: number;
    sturdiness: Sturdiness;
    why: string;
}

const WITHIN = 'It lies in a tree of its own, which no selector reaches into: this finds the element that has the tree.';

/** The sturdiest first. */
const ORDER: Sturdiness[] = ['id', 'data', 'attribute', 'class', 'place', 'position'];

const MOST = 6;
const DEEPEST = 12;
const LONGEST_VALUE = 80;

/** What tells of an element what it is for. */
const ATTRIBUTES = [
    'name',
    'for',
    'aria-label',
    'role',
    'href',
    'action',
    'alt',
    'title',
    'placeholder',
    'type',
    'rel',
    'itemprop',
    'value',
    'label',
    'datetime',
    'lang',
];

/** Of these, others may well have the same tomorrow. */
const SHARED = ['role', 'type', 'rel', 'itemprop', 'lang'];

interface Handle {
    text: string;
    /** Of the attribute, or of the class with a dot before it. */
    name: string;
    sturdiness: Sturdiness;
    why: string;
}

/** What elements can be told by. */
type Handles = (element: Element) => Handle[];

/**
 * Selectors for an element, the sturdiest first; those that find it alone before those that find others as well.
 *
 * @param changes made to the page already: nothing that they have put there is gone by
 */
export function proposals(element: Element, changes: Change[] = []): Proposal[] {
    const root = element.getRootNode();
    if (root !== element.ownerDocument && 'host' in root) {
        return proposals(root.host as Element, changes).map((one) => ({ ...one, why: `${WITHIN} ${one.why}` }));
    }
    const handles: Handles = (one) => handlesOf(one).filter(({ name }) => !isPutBy(changes, one, name));
    const page = element.ownerDocument;
    const found = new Map<string, Proposal>();
    const propose = (selector: string, sturdiness: Sturdiness, why: string): boolean => {
        const count = matching(page, selector, element);
        if (count > 0 && !found.has(selector)) {
            found.set(selector, { selector, count, sturdiness, why });
        }

        return count === 1;
    };
    const own = handles(element);
    const tag = tagOf(element);
    for (const one of own) {
        propose(one.text.startsWith('#') ? one.text : tag + one.text, one.sturdiness, one.why);
    }
    if ((tag === 'main' || tag === 'body') && isOne(page, tag)) {
        propose(tag, 'class', 'A page has one of its kind.');
    }
    // Two of its own together.
    for (let i = 0; i < own.length; i++) {
        for (let k = i + 1; k < Math.min(own.length, i + 4); k++) {
            if (!own[i].text.startsWith('#')) {
                propose(tag + own[i].text + own[k].text, weaker(own[i].sturdiness, own[k].sturdiness), `${own[i].why} ${own[k].why}`);
            }
        }
    }
    if (!isUnique(found)) {
        byContent(handles, element, tag, propose);
    }
    if (!isUnique(found)) {
        byPlace(handles, element, own, tag, propose);
    }
    if (!isUnique(found)) {
        propose(
            path(handles, element),
            'position',
            'It goes by where the element stands among its siblings: one more before it, and another one is found.',
        );
    }

    return [...found.values()]
        .sort(
            (a, b) =>
                Number(b.count === 1) - Number(a.count === 1) ||
                ORDER.indexOf(a.sturdiness) - ORDER.indexOf(b.sturdiness) ||
                a.selector.length - b.selector.length,
        )
        .slice(0, MOST);
}

/** Names of the element that are passed over, each with the reason. */
export function passedOver(element: Element): { name: string; why: string }[] {
    const all = [...(element.id ? [element.id] : []), ...Array.from(element.classList)];

    return all.flatMap((name) => {
        const why = weakness(name);

        return why === null ? [] : [{ name, why }];
    });
}

function isUnique(found: Map<string, Proposal>): boolean {
    return [...found.values()].some(({ count }) => count === 1);
}

/** By what is in it: a row by the link that only it has, say. */
function byContent(
    handles: Handles,
    element: Element,
    tag: string,
    propose: (selector: string, sturdiness: Sturdiness, why: string) => boolean,
): void {
    for (const inside of Array.from(element.querySelectorAll('*')).slice(0, 30)) {
        for (const one of handles(inside).filter(({ sturdiness }) => sturdiness !== 'class')) {
            if (
                propose(
                    `${tag}:has(${one.text.startsWith('#') ? '' : tagOf(inside)}${one.text})`,
                    'attribute',
                    `It goes by what is in it: ${lower(one.why)} Browsers older than 2023 do not know it.`,
                )
            ) {
                return;
            }
        }
    }
}

/** By an element around it, the nearest that can be told by itself, and what it is in there. */
function byPlace(
    handles: Handles,
    element: Element,
    own: Handle[],
    tag: string,
    propose: (selector: string, sturdiness: Sturdiness, why: string) => boolean,
): void {
    const ends = [...own.filter(({ text }) => !text.startsWith('#')).map(({ text }) => tag + text), tag];
    const page = element.ownerDocument;
    let depth = 0;
    for (
        let around = element.parentElement;
        around && around !== page.documentElement && depth < DEEPEST;
        around = around.parentElement, depth++
    ) {
        const anchors = [
            ...handles(around).map((one) => ({ ...one, text: one.text.startsWith('#') ? one.text : tagOf(around!) + one.text })),
            ...(isOne(page, tagOf(around))
                ? [{ text: tagOf(around), name: '', sturdiness: 'place' as const, why: 'There is one of its kind.' }]
                : []),
        ];
        for (const anchor of anchors) {
            for (const end of ends) {
                if (
                    propose(
                        `${anchor.text} ${end}`,
                        anchor.sturdiness === 'position' ? 'position' : 'place',
                        `It goes by what is around it: ${lower(anchor.why)}`,
                    )
                ) {
                    return;
                }
            }
        }
        // A row, or a part of the page, that can be told by what else is in it.
        for (const sibling of Array.from(around.querySelectorAll('*')).slice(0, 30)) {
            if (sibling === element || sibling.contains(element) || element.contains(sibling)) {
                continue;
            }
            for (const one of handles(sibling).filter(
                ({ sturdiness }) => sturdiness === 'id' || sturdiness === 'data' || sturdiness === 'attribute',
            )) {
                const row = `${tagOf(around)}:has(${one.text.startsWith('#') ? '' : tagOf(sibling)}${one.text})`;
                if (isOne(page, row)) {
                    for (const end of ends) {
                        if (
                            propose(
                                `${row} ${end}`,
                                'place',
                                `It goes by what stands beside it: ${lower(one.why)} Browsers older than 2023 do not know it.`,
                            )
                        ) {
                            return;
                        }
                    }
                    // Its place there is another one only where the row itself is.
                    if (
                        propose(
                            `${row} > ${steps(element, around)}`,
                            'position',
                            `It goes by what stands beside it, and by its place there: ${lower(one.why)} Browsers older than 2023 do not know it.`,
                        )
                    ) {
                        return;
                    }
                }
            }
        }
    }
}

/** What an element can be told by alone, the sturdiest first. */
function handlesOf(element: Element): Handle[] {
    const all: Handle[] = [];
    if (element.id && !isGenerated(element.id)) {
        all.push({ text: `#${CSS.escape(element.id)}`, name: 'id', sturdiness: 'id', why: 'It has an id that reads like a name.' });
    }
    for (const { name, value } of Array.from(element.attributes)) {
        const isData = name.startsWith('data-');
        if ((!isData && !ATTRIBUTES.includes(name)) || value.length > LONGEST_VALUE || isGenerated(name.slice(isData ? 5 : 0))) {
            continue;
        }
        const told = name === 'href' || name === 'action' ? value.replace(/[?#].*$/, '') : value;
        if ((told !== '' && isMachineMade(told)) || (told === '' && !isData)) {
            continue;
        }
        const operator = told === value ? '=' : '^=';
        const text = told === '' ? `[${name}]` : `[${name}${operator}${JSON.stringify(told)}]`;
        all.push(
            isData
                ? { text, name, sturdiness: 'data', why: `It has ${name}, which is there for scripts.` }
                : SHARED.includes(name)
                  ? { text, name, sturdiness: 'class', why: `Its ${name} says what it is for, as that of others may.` }
                  : { text, name, sturdiness: 'attribute', why: `Its ${name} says what it is for.` },
        );
    }
    for (const name of Array.from(element.classList)) {
        if (weakness(name) === null) {
            all.push({
                text: `.${CSS.escape(name)}`,
                name: `.${name}`,
                sturdiness: 'class',
                why: 'It has a class that reads like a name.',
            });
        }
    }
    if (element.localName.includes('-')) {
        all.push({ text: '', name: '', sturdiness: 'class', why: `${element.localName} is an element of the site’s own.` });
    }

    return all.sort((a, b) => ORDER.indexOf(a.sturdiness) - ORDER.indexOf(b.sturdiness));
}

/** Whether a change of ours has put that there: it is gone where the change is taken back, and is not there yet before it is made. */
function isPutBy(changes: Change[], element: Element, name: string): boolean {
    return changes.some(
        (one) =>
            ((one.kind === 'attribute' && one.attribute === name) ||
                (one.kind === 'class' && (one.add ?? []).some((added) => `.${added}` === name))) &&
            matching(element.ownerDocument, one.selector ?? '', element) > 0,
    );
}

/** Of a value with blanks or slashes in it, whether all of its parts look random. */
function isMachineMade(value: string): boolean {
    return (
        value
            .split(/[\s/]+/)
            .filter(Boolean)
            .every((part) => isGenerated(part)) && /[a-z]/i.test(value)
    );
}

function tagOf(element: Element): string {
    return CSS.escape(element.localName);
}

/** Steps down to an element, each with its place among those of its kind where there are several. */
function steps(element: Element, from: Element): string {
    const all: string[] = [];
    for (let at: Element | null = element; at && at !== from; at = at.parentElement) {
        const alike = Array.from(at.parentElement?.children ?? []).filter((one) => one.localName === at!.localName);
        all.unshift(alike.length > 1 ? `${tagOf(at)}:nth-of-type(${alike.indexOf(at) + 1})` : tagOf(at));
    }

    return all.join(' > ');
}

/** Steps from the nearest element that can be told by itself. */
function path(handles: Handles, element: Element): string {
    const page = element.ownerDocument;
    for (let at = element.parentElement; at && at !== page.body && at !== page.documentElement; at = at.parentElement) {
        const tag = tagOf(at);
        const best = handles(at)
            .map(({ text }) => (text.startsWith('#') ? text : tag + text))
            .find((one) => isOne(page, one));
        if (best) {
            return `${best} > ${steps(element, at)}`;
        }
    }
    const root = page.body?.contains(element) && element !== page.body ? page.body : page.documentElement;

    return element === root || !root.contains(element) ? tagOf(element) : `${tagOf(root)} > ${steps(element, root)}`;
}

function weaker(a: Sturdiness, b: Sturdiness): Sturdiness {
    return ORDER[Math.max(ORDER.indexOf(a), ORDER.indexOf(b))];
}

function isOne(page: Document, selector: string): boolean {
    try {
        return page.querySelectorAll(selector).length === 1;
    } catch {
        return false;
    }
}

/** How many elements a selector finds; 0 where this one is not among them. */
function matching(page: Document, selector: string, element: Element): number {
    try {
        const all = page.querySelectorAll(selector);

        return Array.prototype.includes.call(all, element) ? all.length : 0;
    } catch {
        return 0;
    }
}

function lower(text: string): string {
    return text[0].toLowerCase() + text.slice(1);
}

import { is } from './cascade/kinds';
import type { Change } from '../../../runtime/src/types';
import type { ChangeState } from './changes';
import { linesOf } from './cascade/lines';
import { walk, type Walked } from './cascade/walk';
import { isInherited, winner, type Declared } from './cascade/winner';

/** A declaration of a change that an element does not get, and what it gets instead. */
interface Overruled {
    property: string;
    wanted: string;
    element: Element;
    by: Declared;
    /** Whether the element of the change has it, and one within does not. */
    isWithin: boolean;
}

const MOST_ELEMENTS = 20;
const MOST_TOLD = 20;
const MOST_WITHIN = 200;

/** What of a change that was made is not in effect, and which declaration is in effect instead. */
function overruledOf(change: Change, elements: Element[], page: Document, walked: Walked): Overruled[] {
    const all: Overruled[] = [];
    const told = new Set<string>();
    const look = (element: Element, property: string, wanted: string, isOurs: (one: Declared) => boolean): void => {
        const by = winner(element, property, walked);
        if (by === null || isOurs(by)) {
            const within =
                by !== null && isInherited(property) && !property.startsWith('--') ? textWithin(element, property, by, walked) : null;
            if (within) {
                tell({ property, wanted, element: within.element, by: within, isWithin: true });
            }
        } else {
            tell({ property, wanted, element, by, isWithin: false });
        }
    };
    const tell = (one: Overruled): void => {
        const key = `${one.property} ${one.by.by} ${one.by.order} ${one.isWithin}`;
        if (!told.has(key) && all.length < MOST_TOLD) {
            told.add(key);
            all.push(one);
        }
    };
    if (change.kind === 'style' || change.kind === 'hide') {
        const [property, wanted] = change.kind === 'hide' ? ['display', 'none'] : [change.property!, change.value ?? ''];
        elements
            .slice(0, MOST_ELEMENTS)
            .forEach((element) =>
                look(element, property, wanted, (by) => by.by === 'attribute' && by.isImportant && by.element === element),
            );
    } else if (change.kind === 'sheet') {
        const own = Array.from(page.querySelectorAll('style')).find((one) => one.textContent === change.value)?.sheet ?? null;
        for (const { rule, selector, sheet } of own === null ? [] : walked.rules) {
            if (sheet === own) {
                const found = Array.from(safely(() => page.querySelectorAll(selector)) ?? []).slice(0, MOST_ELEMENTS);
                for (const property of Array.from(rule.style)) {
                    found.forEach((element) =>
                        look(element, property, rule.style.getPropertyValue(property), (by) => by.at?.sheet === own),
                    );
                }
            }
        }
    }

    return all;
}

/** An element within, with text of its own, that does not inherit what its ancestor has. */
function textWithin(element: Element, property: string, ours: Declared, walked: Walked): Declared | null {
    for (const one of Array.from(element.querySelectorAll('*')).slice(0, MOST_WITHIN)) {
        if (Array.from(one.childNodes).some((node) => node.nodeType === Node.TEXT_NODE && node.nodeValue?.trim())) {
            const by = winner(one, property, walked);
            if (by !== null && by.element !== ours.element && element.contains(by.element) && by.at?.sheet !== ours.at?.sheet) {
                return by;
            }
        }
    }

    return null;
}

function safely<T>(work: () => T): T | null {
    try {
        return work();
    } catch {
        return null;
    }
}

/** What it loses to, where that stands, and what would win: for people. */
async function overruledWords({ property, wanted, by, isWithin }: Overruled): Promise<string> {
    const loses = isWithin
        ? `${property}: ${wanted} is not inherited by ${by.element.localName} within, which has ${by.value} by`
        : `${property}: ${wanted} loses to ${by.value} by`;

    return `${loses} ${await place(by)}. ${wouldWin(property, wanted, by)}`;
}

/**
 * The same of a change as it stands on the page: nothing where it is in effect, or was not made.
 *
 * @param walks the rules of each page, read once for all changes that are looked at together
 */
export async function losingWords({ change, state, elements, page }: ChangeState, walks = new Map<Document, Walked>()): Promise<string[]> {
    if (state === 'applied' && !walks.has(page)) {
        walks.set(page, walk(page));
    }

    return state === 'applied' ? Promise.all(overruledOf(change, elements, page, walks.get(page)!).map(overruledWords)) : [];
}

async function place(by: Declared): Promise<string> {
    switch (by.by) {
        case 'transition':
            return 'a transition that is under way';
        case 'animation':
            return by.name === '' ? 'an animation of the page’s script' : `the animation ${by.name}`;
        case 'attribute':
            return `the style attribute of the element${by.isImportant ? ' (!important)' : ''}`;
        default: {
            const { sheet, unsure } = by.at!;
            const line = await lineOf(by);
            const extra = [
                `specificity ${by.specificity.join(',')}`,
                ...(by.isImportant ? ['!important'] : []),
                ...(by.layer.length > 1 ? ['in a layer'] : []),
                ...(unsure ? [`if ${unsure}`] : []),
            ];

            return `${by.selector} in ${sheetName(sheet)}${line === null ? '' : `, line ${line}`} (${extra.join(', ')})`;
        }
    }
}

/** What would have to be written for the change to be in effect. */
function wouldWin(property: string, wanted: string, by: Declared): string {
    if (by.by === 'transition') {
        return 'It shows once the transition is over.';
    }
    if (by.isImportant && (by.by === 'attribute' || by.layer.length > 1)) {
        return 'A change of the kind style, made to the element itself, would win.';
    }
    if (by.isImportant) {
        const selector = /^(html|:root)/.test(by.selector) ? `${by.selector}:not(#_)` : `html ${by.selector}`;

        return `“${selector} { ${property}: ${wanted} !important }” would win.`;
    }

    return `“${property}: ${wanted} !important” would win.`;
}

function sheetName(sheet: CSSStyleSheet): string {
    if (sheet.href) {
        return new URL(sheet.href).pathname.split('/').pop() || sheet.href;
    }
    const all = sheet.ownerNode ? Array.from(sheet.ownerNode.ownerDocument!.querySelectorAll('style')) : [];

    return is(sheet.ownerNode, 'HTMLStyleElement')
        ? `style element ${all.indexOf(sheet.ownerNode) + 1} of the page`
        : 'a style sheet that a script has made';
}

const texts = new WeakMap<CSSStyleSheet, Promise<string | null>>();

async function lineOf({ at }: Declared): Promise<number | null> {
    const sheet = at!.sheet;
    let text = texts.get(sheet);
    if (text === undefined) {
        text = textOf(sheet);
        texts.set(sheet, text);
    }
    const own = await text;

    return own === null ? null : (linesOf(sheet, own).get(at!.rule) ?? null);
}

/** A page may not let its sheets be fetched: then the line stays unknown. */
async function textOf(sheet: CSSStyleSheet): Promise<string | null> {
    if (!sheet.href) {
        return is(sheet.ownerNode, 'HTMLStyleElement') ? sheet.ownerNode.textContent : null;
    }
    try {
        const answer = await fetch(sheet.href, { credentials: 'same-origin', cache: 'force-cache' });

        return answer.ok ? await answer.text() : null;
    } catch {
        return null;
    }
}

import type { Schemas } from '../api/client';
import { CHANGE_KINDS } from '../parts/vocabulary';

export type Change = Schemas['Change'];

const EMPTY: Change = { kind: 'text', selector: '', value: '' };

export function nextChange(): Change {
    return { ...EMPTY };
}

/** A change with the members of its kind alone: what was typed for another kind is kept in the form, and not sent. */
export function cleaned(change: Change): Change {
    const given: Change = { kind: change.kind };
    if (!CHANGE_KINDS[change.kind]) {
        // Of a newer version, or of nobody: the server says what is wrong.
        return change;
    }
    if (CHANGE_KINDS[change.kind].selector) {
        given.selector = change.selector?.trim() ?? '';
    }
    for (const member of CHANGE_KINDS[change.kind].members) {
        Object.assign(given, { [member]: memberOf(change, member) });
    }

    if (CHANGE_KINDS[change.kind].selector && change.media?.trim()) {
        given.media = change.media.trim();
    }

    return change.off ? { ...given, off: true } : given;
}

function memberOf(change: Change, member: keyof Change): unknown {
    if (member === 'place') {
        return change.place ?? 'before';
    }
    if (member === 'add' || member === 'remove') {
        return (change[member] ?? []).filter(Boolean);
    }
    const value = change[member];
    if (member === 'value') {
        return change.kind === 'attribute' ? (value ?? null) : (value ?? '');
    }

    return typeof value === 'string' ? value.trim() : '';
}

/** Mistakes that can be told without asking the server, by field. */
export function changeMistakes(change: Change): Record<string, string> {
    const found: Record<string, string> = {};
    const selector = (field: 'selector' | 'to'): void => {
        if (!isSelector(change[field] ?? '')) {
            found[field] = change[field] ? 'The browser does not know this as a CSS selector.' : 'Type a CSS selector, such as h1.';
        }
    };
    if (!CHANGE_KINDS[change.kind]) {
        return { kind: 'There is no such kind of change.' };
    }
    if (CHANGE_KINDS[change.kind].selector) {
        selector('selector');
    }
    if (change.kind === 'move') {
        selector('to');
    }
    if (change.media && CHANGE_KINDS[change.kind].selector && !WIDTHS.test(change.media.trim())) {
        found.media = 'Give widths in pixels, such as (max-width: 600px) or (min-width: 601px) and (max-width: 900px).';
    }
    if (change.kind === 'class' && !change.add?.some(Boolean) && !change.remove?.some(Boolean)) {
        found.add = 'Name a class to be added or removed.';
    }
    if (change.kind === 'attribute' && !change.attribute) {
        found.attribute = 'Type the name of an attribute, such as href.';
    }
    if (CHANGE_KINDS[change.kind].members.includes('value') && change.kind !== 'attribute' && !change.value) {
        found.value = WANTED[change.kind] ?? 'Type the value.';
    } else if (change.kind === 'style' && change.property && change.value && !CSS.supports(change.property, change.value)) {
        found.value = `The browser does not know “${change.value}” as a value of ${change.property}.`;
    }

    return found;
}

const WIDTHS = /^\((min|max)-width:\s*\d{1,5}px\)(\s+and\s+\((min|max)-width:\s*\d{1,5}px\))?$/;

const WANTED: Partial<Record<Change['kind'], string>> = {
    text: 'Type the new text.',
    html: 'Type the HTML.',
    style: 'Type the value of the property.',
    insert: 'Type the HTML.',
    sheet: 'Type the style sheet.',
    script: 'Type the script.',
};

function isSelector(text: string): boolean {
    try {
        document.createDocumentFragment().querySelector(text);

        return true;
    } catch {
        return false;
    }
}

/** A change in a few words, as lists show it. */
export function changeInWords(change: Change): { before: string; code: string } {
    const value = change.value ?? '';
    const short = value.length > 80 ? `${value.slice(0, 80)}…` : value;
    switch (change.kind) {
        case 'text':
            return { before: 'reads', code: `“${short}”` };
        case 'html':
            return { before: 'holds', code: short };
        case 'attribute':
            return change.value == null
                ? { before: 'has no more', code: change.attribute ?? '' }
                : { before: 'has', code: `${change.attribute}="${short}"` };
        case 'style':
            return { before: 'is styled', code: `${change.property}: ${short}` };
        case 'class':
            return {
                before: 'has the classes',
                code: [...(change.add ?? []).map((name) => `+${name}`), ...(change.remove ?? []).map((name) => `−${name}`)].join(' '),
            };
        case 'hide':
            return { before: 'is hidden', code: '' };
        case 'remove':
            return { before: 'is taken out', code: '' };
        case 'move':
            return { before: `is moved ${WHERE[change.place ?? 'before']}`, code: change.to ?? '' };
        case 'insert':
            return { before: `gets ${INSERTED[change.place ?? 'before']}`, code: short };
        case 'sheet':
            return { before: 'style sheet', code: short };
        default:
            return { before: 'script', code: short };
    }
}

const WHERE: Record<Schemas['ChangePlace'], string> = { before: 'before', after: 'after', first: 'first into', last: 'last into' };
const INSERTED: Record<Schemas['ChangePlace'], string> = {
    before: 'before it',
    after: 'after it',
    first: 'as its first',
    last: 'as its last',
};

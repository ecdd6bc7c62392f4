import type { Shown } from '../../../runtime/src/experiments';
import type { Change } from '../../../runtime/src/types';
import { widthWords } from '../change/widths';

/** What became of one change on this page. */
export interface ChangeState {
    number: number;
    change: Change;
    state: 'applied' | 'missed' | 'reverted';
    why: string;
    elements: Element[];
    /** Where it was made. */
    page: Document;
}

export function changesOf({ applied, experiment, variant }: Shown, page: Document = document): ChangeState[] {
    const all = experiment.variants.find(({ key }) => key === variant)?.changes ?? [];
    const missing = applied?.missing() ?? [];
    const reverted: Change[] = applied?.reverted().changes ?? [];

    return all.map((change, i) => {
        const elements = change.selector ? found(change.selector, page) : [];
        const state = missing.includes(change) ? 'missed' : reverted.includes(change) ? 'reverted' : 'applied';

        return { number: i + 1, change, state, why: why(state, change, elements), elements, page };
    });
}

function why(state: ChangeState['state'], change: Change, elements: Element[]): string {
    if (state === 'missed') {
        return elements.length === 0
            ? 'No element of this page matches its selector.'
            : change.kind === 'move'
              ? 'The place that it moves to is not on this page.'
              : 'An element matches by now, and was not changed.';
    }
    if (state === 'reverted') {
        return 'The page has put back what it was, again and again: it is left to the page.';
    }

    return change.selector && change.kind !== 'remove'
        ? `Made to ${elements.length === 1 ? 'one element' : `${elements.length} elements`}.`
        : 'Made.';
}

export function found(selector: string, page: Document = document): Element[] {
    try {
        return Array.from(page.querySelectorAll(selector));
    } catch {
        return [];
    }
}

/** What a change does, in words. */
export function changeWords(change: Change): string {
    return doingWords(change) + (change.media ? `, on screens ${widthWords(change.media)}` : '');
}

function doingWords(change: Change): string {
    const at = change.selector ? ` ${change.selector}` : '';
    switch (change.kind) {
        case 'text':
            return `text of${at}: “${change.value}”`;
        case 'style':
            return `${change.property}: ${change.value} on${at}`;
        case 'attribute':
            return change.value === null ? `${change.attribute} of${at} taken away` : `${change.attribute} of${at}: “${change.value}”`;
        case 'class':
            return `classes of${at}: ${[...(change.add ?? []).map((name) => `+${name}`), ...(change.remove ?? []).map((name) => `−${name}`)].join(' ')}`;
        case 'move':
            return `${at.trim()} moved ${change.place} ${change.to}`;
        case 'insert':
            return `inserted ${change.place}${at}`;
        case 'hide':
            return `${at.trim()} hidden`;
        case 'remove':
            return `${at.trim()} removed`;
        case 'html':
            return `HTML of${at}`;
        case 'sheet':
            return 'style sheet';
        default:
            return 'script';
    }
}

import type { Place } from '../../../runtime/src/types';

export interface Spot {
    target: Element;
    place: Place;
}

/** How much of a container, from either edge, means beside it and not in it: a part of it, and so many pixels at most. */
const EDGE = 0.25;
const EDGE_PX = 14;
const CONTAINERS = ['div', 'section', 'main', 'article', 'aside', 'header', 'footer', 'nav', 'ul', 'ol', 'form', 'fieldset', 'body'];

/** Where something goes that is let go of at a point over an element: beside it, or into it. */
export function spotAt(target: Element, x: number, y: number): Spot {
    const { left, top, width, height } = target.getBoundingClientRect();
    const isAcross = runsAcross(target);
    const [at, size] = isAcross ? [x - left, width || 1] : [y - top, height || 1];
    const part = at / size;
    const edge = Math.min(EDGE, EDGE_PX / size);
    if (part > edge && part < 1 - edge && (target.localName === 'body' || CONTAINERS.includes(target.localName))) {
        return { target, place: 'last' };
    }

    return { target, place: part < 0.5 ? 'before' : 'after' };
}

/** Whether its neighbours stand to the left and right of it. */
export function runsAcross(element: Element): boolean {
    const around = element.parentElement ? getComputedStyle(element.parentElement) : null;
    if (around && /flex/.test(around.display)) {
        return !around.flexDirection.startsWith('column');
    }

    return /^inline/.test(getComputedStyle(element).display);
}

/** The line that shows where it goes, in the window's own coordinates. */
export function lineOf({ target, place }: Spot): { left: number; top: number; width: number; height: number } {
    const { left, top, width, height, right, bottom } = target.getBoundingClientRect();
    if (place === 'first' || place === 'last') {
        return { left, top: place === 'first' ? top : bottom - 4, width, height: 4 };
    }
    if (runsAcross(target)) {
        return { left: place === 'before' ? left - 2 : right - 2, top, width: 4, height };
    }

    return { left, top: place === 'before' ? top - 2 : bottom - 2, width, height: 4 };
}

const WORDS: Record<Place, string> = {
    before: 'before',
    after: 'after',
    first: 'inside, at the beginning of',
    last: 'inside, at the end of',
};

export function placeWords(place: Place): string {
    return WORDS[place];
}

import { weakness } from './names';

/** So many names of an element, and so many elements around it, are recorded with a click (runtime/src/capture.ts). */
const MOST_CLASSES = 4;
const DEEPEST = 10;
const NAME = /^-?[A-Za-z_][A-Za-z0-9_-]{0,59}$/;

/**
 * A selector of names, ids, classes and steps down alone: what a recorded click can be told by (core/src/Happenings/ElementSelector.php).
 * Null where nothing of the kind finds the element alone.
 */
export function recordedSelector(element: Element): string | null {
    const page = element.ownerDocument;
    const isAlone = (selector: string): boolean => {
        const all = page.querySelectorAll(selector);

        return all.length === 1 && all[0] === element;
    };
    const tails = own(element);
    const found = tails.find(isAlone);
    if (found) {
        return found;
    }
    let depth = 1;
    for (let around = element.parentElement; around && depth < DEEPEST; around = around.parentElement, depth++) {
        for (const anchor of own(around)) {
            const alone = tails.map((tail) => `${anchor} ${tail}`).find(isAlone);
            if (alone) {
                return alone;
            }
        }
    }

    return null;
}

/** What an element can be told by among others, the sturdiest first. */
function own(element: Element): string[] {
    const isGood = (name: string): boolean => NAME.test(name) && weakness(name) === null;
    const classes = Array.from(element.classList).slice(0, MOST_CLASSES).filter(isGood);

    return [
        ...(isGood(element.id) ? [`#${element.id}`] : []),
        ...classes.map((name) => `${element.localName}.${name}`),
        ...(classes.length > 1 ? [element.localName + classes.map((name) => `.${name}`).join('')] : []),
        ...(NAME.test(element.localName) ? [element.localName] : []),
    ];
}

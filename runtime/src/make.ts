import { nonced } from './nonce';
import type { Change, Place } from './types';

/** A change as it was made to one element. */
export interface Made {
    /** Whether the page still shows it. */
    holds(): boolean;
    /** Puts back what was there, where nobody has changed it since. */
    undo(): void;
}

/** What was put onto the page by which change. */
const owners = new WeakMap<Node, Change>();

/** Changes may build on one another, but not for ever. */
const DEEPEST = 3;

/** Whether an element came from that change itself, or from changes of changes of changes: otherwise there would be no end. */
export function isOwn(element: Element, change: Change): boolean {
    let depth = 0;
    for (let node: Node | null = element; node; node = node.parentNode) {
        const owner = owners.get(node);
        if (owner === change || (owner && ++depth > DEEPEST)) {
            return true;
        }
    }

    return false;
}

/** Makes a change to an element; null where there is no place for it yet. */
export function make(element: Element, change: Change): Made | null {
    const value = change.value ?? '';
    switch (change.kind) {
        case 'text':
            return content(element, [document.createTextNode(value)], () => element.textContent === value);
        case 'html':
            return content(element, nodes(change));
        case 'attribute':
            return attribute(element, change.attribute!, change.value ?? null);
        case 'style':
            return style(element as HTMLElement, change.property!, value);
        case 'hide':
            return style(element as HTMLElement, 'display', 'none');
        case 'class':
            return classes(element, change.add ?? [], change.remove ?? []);
        case 'remove':
            return placed(
                [element],
                () => element.remove(),
                () => !element.isConnected,
            );
        case 'move':
            return move(element, change);
        default:
            return insert(element, nodes(change), change.place!);
    }
}

export function sheet(css: string): Made {
    const element = nonced(document.createElement('style'));
    element.textContent = css;
    document.head.append(element);

    return { holds: () => element.isConnected, undo: () => element.remove() };
}

let template: HTMLTemplateElement | null = null;

function nodes(change: Change): Node[] {
    template ??= document.createElement('template');
    template.innerHTML = change.value ?? '';
    const all = Array.from(template.content.childNodes);
    all.forEach((node) => owners.set(node, change));

    return all;
}

function content(element: Element, fresh: Node[], same?: () => boolean): Made {
    const old = Array.from(element.childNodes);
    element.replaceChildren(...fresh);
    const holds = same ?? (() => fresh.every((node) => node.parentNode === element));

    return { holds, undo: () => holds() && element.replaceChildren(...old) };
}

function attribute(element: Element, name: string, value: string | null): Made {
    const old = element.getAttribute(name);
    const set = (to: string | null): void => (to === null ? element.removeAttribute(name) : element.setAttribute(name, to));
    const holds = (): boolean => element.getAttribute(name) === value;
    set(value);

    return { holds, undo: () => holds() && set(old) };
}

function style(element: HTMLElement, property: string, value: string): Made {
    const own = element.style;
    const [old, priority] = [own.getPropertyValue(property), own.getPropertyPriority(property)];
    // Without the priority, the page's own style sheet could win and nobody would know.
    own.setProperty(property, value, 'important');
    // As the browser writes it.
    const written = own.getPropertyValue(property);
    const holds = (): boolean => own.getPropertyValue(property) === written && (written === '' || own.getPropertyPriority(property) !== '');

    return { holds, undo: () => holds() && (old ? own.setProperty(property, old, priority) : own.removeProperty(property)) };
}

function classes(element: Element, add: string[], remove: string[]): Made {
    const list = element.classList;
    const old = element.getAttribute('class');
    const added = add.filter((name) => !list.contains(name));
    const removed = remove.filter((name) => list.contains(name));
    list.add(...add);
    list.remove(...remove);
    const written = element.getAttribute('class');

    return {
        holds: () => add.every((name) => list.contains(name)) && !remove.some((name) => list.contains(name)),
        undo: () => {
            if (element.getAttribute('class') !== written) {
                list.remove(...added);
                list.add(...removed);
            } else if (old === null) {
                element.removeAttribute('class');
            } else {
                element.setAttribute('class', old);
            }
        },
    };
}

function move(element: Element, change: Change): Made | null {
    const to = Array.from(document.querySelectorAll(change.to!)).find((one) => !element.contains(one));

    return to
        ? placed(
              [element],
              () => put([element], to, change.place!),
              () => isAt(element, to, change.place!),
          )
        : null;
}

function insert(element: Element, fresh: Node[], place: Place): Made {
    put(fresh, element, place);

    return {
        holds: () => fresh.every((node) => node.isConnected),
        undo: () => fresh.forEach((node) => node.parentNode?.removeChild(node)),
    };
}

/** An element that is taken away from where it was. */
function placed(all: Element[], act: () => void, holds: () => boolean): Made {
    const [parent, next] = [all[0].parentNode, all[0].nextSibling];
    act();

    return {
        holds,
        undo: () => {
            if (holds() && parent?.isConnected) {
                parent.insertBefore(all[0], next?.parentNode === parent ? next : null);
            }
        },
    };
}

function put(all: Node[], at: Element, place: Place): void {
    if (place === 'before') {
        at.before(...all);
    } else if (place === 'after') {
        at.after(...all);
    } else if (place === 'first') {
        at.prepend(...all);
    } else {
        at.append(...all);
    }
}

/** Others may stand between, but on the right side of it: another change may have put something there. */
function isAt(element: Element, to: Element, place: Place): boolean {
    if (place === 'first' || place === 'last') {
        return element.parentNode === to;
    }
    const side = place === 'before' ? Node.DOCUMENT_POSITION_PRECEDING : Node.DOCUMENT_POSITION_FOLLOWING;

    return element.parentNode === to.parentNode && (to.compareDocumentPosition(element) & side) !== 0;
}

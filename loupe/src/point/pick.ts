import { spotAt, type Spot } from '../change/place';

/** What the page must not hear of while somebody points. */
const SILENCED = [
    'click',
    'dblclick',
    'auxclick',
    'mousedown',
    'mouseup',
    'pointerdown',
    'pointerup',
    'contextmenu',
    'submit',
    'dragstart',
    'touchstart',
    'touchend',
];

/** Pixels that the pointer has to move before something is dragged. */
const DRAG_PX = 6;

export interface Told {
    /** Pointed at by now. */
    at(element: Element): void;
    chosen(element: Element): void;
    ended(): void;
    /** Whether this element, or one around it, may be dragged: which. */
    draggable?(element: Element): Element | null;
    /** Dragged over that place; null where there is none. */
    over?(spot: Spot | null): void;
    dropped?(dragged: Element, spot: Spot): void;
}

let picking = 0;

/** Whether somebody is pointing at elements: what they click then is nothing that is done on the page. */
export function isPicking(): boolean {
    return picking > 0;
}

/** Lets somebody point at elements of a page by mouse, and drag one; the page hears nothing of it. Returns what ends it. */
export function pick(page: Document, told: Told): () => void {
    const view = page.defaultView!;
    const end = new AbortController();
    const { signal } = end;
    picking++;
    signal.addEventListener('abort', () => picking--);
    let at: Element | null = null;
    let held: { element: Element; x: number; y: number } | null = null;
    let spot: Spot | null = null;
    let isDragging = false;
    const isOurs = (event: Event): boolean =>
        event.composedPath().some((one) => one instanceof view.Element && one.localName === 'plx-loupe');
    const letGo = (): void => {
        held = spot = null;
        told.over?.(null);
    };
    const drag = (event: PointerEvent): void => {
        const below = page
            .elementsFromPoint(event.clientX, event.clientY)
            .find((one) => one.localName !== 'plx-loupe' && one !== page.documentElement && !held!.element.contains(one));
        spot = below ? spotAt(below, event.clientX, event.clientY) : null;
        told.over?.(spot);
    };
    view.addEventListener(
        'pointermove',
        (event) => {
            if (held) {
                isDragging ||= Math.hypot(event.clientX - held.x, event.clientY - held.y) > DRAG_PX;
                if (isDragging) {
                    drag(event);
                }
            } else if (!isOurs(event) && event.target instanceof view.Element && event.target !== at && isElement(event.target)) {
                at = event.target;
                told.at(at);
            }
        },
        { capture: true, signal },
    );
    SILENCED.forEach((name) =>
        view.addEventListener(
            name,
            (event) => {
                if (isOurs(event) && !held) {
                    return;
                }
                event.preventDefault();
                event.stopImmediatePropagation();
                if (!(event.target instanceof view.Element)) {
                    return;
                }
                if (name === 'pointerdown' && event instanceof view.PointerEvent) {
                    const element = told.draggable?.(event.target) ?? null;
                    held = element && { element, x: event.clientX, y: event.clientY };
                    isDragging = false;
                } else if (name === 'pointerup' && held) {
                    if (isDragging && spot) {
                        told.dropped?.(held.element, spot);
                    }
                    letGo();
                } else if (name === 'click' && !isDragging && isElement(event.target)) {
                    told.chosen(event.target);
                }
            },
            { capture: true, signal, passive: false },
        ),
    );
    const keys = (event: KeyboardEvent): void => {
        if (event.key === 'Escape') {
            event.preventDefault();
            event.stopImmediatePropagation();
            if (held) {
                isDragging = true;
                letGo();
            } else {
                told.ended();
            }
        }
    };
    [...new Set([view, window])].forEach((one) => one.addEventListener('keydown', keys, { capture: true, signal }));

    return () => end.abort();

    function isElement(element: Element): boolean {
        return element !== page.documentElement && element.localName !== 'plx-loupe';
    }
}

/** Where arrow keys lead from an element: up to what is around it, down into it, left and right to its neighbours. */
export function step(from: Element | null, key: string, page: Document): Element | null {
    const start = from?.isConnected ? from : (page.querySelector('main') ?? page.body);
    if (start !== from) {
        return start;
    }
    const to =
        key === 'ArrowUp'
            ? start.parentElement
            : key === 'ArrowDown'
              ? start.firstElementChild
              : key === 'ArrowLeft'
                ? start.previousElementSibling
                : start.nextElementSibling;

    return to && to !== page.documentElement && to.localName !== 'plx-loupe' ? to : null;
}

/** Scrolls an element to where it can be seen, if it cannot. */
export function bringToView(element: Element): void {
    const { top, bottom } = element.getBoundingClientRect();
    if (top < 0 || bottom > element.ownerDocument.defaultView!.innerHeight * 0.5) {
        element.scrollIntoView({ block: 'center', behavior: 'instant' });
    }
}

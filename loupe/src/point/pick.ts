/** What the page must not hear of while somebody points. */
const SILENCED = ['click', 'dblclick', 'auxclick', 'mousedown', 'mouseup', 'pointerdown', 'pointerup', 'contextmenu', 'submit'];

interface Told {
    /** Pointed at by now, by mouse or by arrow keys. */
    at(element: Element): void;
    chosen(element: Element): void;
    ended(): void;
}

/** Lets somebody point at an element of a page, by mouse, or by arrow keys: up to what is around it, down into it, left and right. Returns what ends it. */
export function pick(page: Document, first: Element | null, told: Told): () => void {
    const view = page.defaultView!;
    const end = new AbortController();
    const { signal } = end;
    let current = first;
    const isOurs = (event: Event): boolean =>
        event.composedPath().some((one) => one instanceof view.Element && one.localName === 'plx-loupe');
    const move = (to: Element | null | undefined): void => {
        if (to && to !== page.documentElement && to.localName !== 'plx-loupe') {
            current = to;
            to.scrollIntoView({ block: 'nearest' });
            told.at(to);
        }
    };
    view.addEventListener(
        'mousemove',
        (event) => !isOurs(event) && event.target instanceof view.Element && event.target !== current && move(event.target),
        { capture: true, signal },
    );
    SILENCED.forEach((name) =>
        view.addEventListener(
            name,
            (event) => {
                if (isOurs(event)) {
                    return;
                }
                event.preventDefault();
                event.stopImmediatePropagation();
                if (name === 'click' && event.target instanceof view.Element) {
                    told.chosen(event.target);
                }
            },
            { capture: true, signal },
        ),
    );
    const keys = (event: KeyboardEvent): void => {
        const steps: Record<string, () => unknown> = {
            ArrowUp: () => move(current?.parentElement),
            ArrowDown: () => move(current?.firstElementChild),
            ArrowLeft: () => move(current?.previousElementSibling),
            ArrowRight: () => move(current?.nextElementSibling),
            Enter: () => current && told.chosen(current),
            Escape: () => told.ended(),
        };
        if (event.key in steps) {
            event.preventDefault();
            event.stopImmediatePropagation();
            current ??= page.querySelector('main, body > *');
            steps[event.key]();
        }
    };
    [...new Set([view, window])].forEach((one) => one.addEventListener('keydown', keys, { capture: true, signal }));

    return () => end.abort();
}

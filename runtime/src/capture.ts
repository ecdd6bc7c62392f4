import type { Props } from './types';

/** What a visitor does on a page, told to whoever listens. */
export interface Heard {
    click(element: Element, props: Props): void;
    form(element: Element, props: Props): void;
    /** Called for each quarter of the page, and with how far it was in the end. */
    scroll(percent: number): void;
    scrolled(percent: number): void;
    /** Seconds that the visitor was busy with the page so far. */
    engaged(seconds: number): void;
}

const DEEPEST = 10;
const MOST_CLASSES = 4;
const LONGEST_NAME = 60;
/** Without a sign of life for so long, nobody reads any more (common practice, no source). */
const IDLE_SECONDS = 30;
const TOLD_AT = [10, 30, 60, 120, 300, 600, 1200, 1800];
const STEP = 25;

/** Watches one page at a time, until it is told to stop; `leave()` reports what is left to say of it, `renew()` begins the next one. */
export function capture(heard: Heard, signal?: AbortSignal): { leave(): void; renew(): void } {
    let deepest = 0;
    let told = 0;
    let seconds = 0;
    let toldSeconds = 0;
    let lastSign = Date.now();

    const alive = (): void => {
        lastSign = Date.now();
    };
    const scroll = (): void => {
        alive();
        const page = document.documentElement;
        const room = page.scrollHeight - window.innerHeight;
        const percent = room <= 0 ? 100 : Math.min(100, Math.round((100 * window.scrollY) / room));
        if (percent > deepest) {
            deepest = percent;
            heard.scrolled(deepest);
            const step = Math.floor(deepest / STEP) * STEP;
            if (step > told) {
                told = step;
                heard.scroll(told);
            }
        }
    };
    addEventListener('scroll', scroll, { passive: true, signal });
    ['pointermove', 'pointerdown', 'keydown', 'touchstart'].forEach((name) => addEventListener(name, alive, { passive: true, signal }));
    document.addEventListener(
        'click',
        (event) => {
            const element = event.target;
            if (element instanceof Element) {
                const link = element.closest('a[href]');
                heard.click(element, { path: pathOf(element), ...(link instanceof HTMLAnchorElement ? { href: link.href } : {}) });
            }
        },
        { capture: true, signal },
    );
    document.addEventListener(
        'submit',
        (event) => {
            const form = event.target;
            if (form instanceof HTMLFormElement) {
                // Never what is in its fields.
                heard.form(form, { path: pathOf(form), action: form.getAttribute('action') ?? '', method: form.method });
            }
        },
        { capture: true, signal },
    );
    const clock = window.setInterval(() => {
        if (document.visibilityState === 'visible' && Date.now() - lastSign < 1000 * IDLE_SECONDS) {
            seconds++;
            if (TOLD_AT.includes(seconds)) {
                toldSeconds = seconds;
                heard.engaged(seconds);
            }
        }
    }, 1000);

    signal?.addEventListener('abort', () => window.clearInterval(clock));

    return {
        leave() {
            if (deepest > told) {
                told = deepest;
                heard.scroll(deepest);
            }
            if (seconds > toldSeconds) {
                toldSeconds = seconds;
                heard.engaged(seconds);
            }
        },
        renew() {
            deepest = told = seconds = toldSeconds = 0;
            alive();
        },
    };
}

/** Where an element stands: `body>main>form#loan.steps>button.next`. Names that look made by a machine are kept as they are. */
export function pathOf(element: Element): string {
    const steps: string[] = [];
    for (let here: Element | null = element; here && steps.length < DEEPEST; here = here.parentElement) {
        const id = here.id ? `#${name(here.id)}` : '';
        const classes = Array.from(here.classList)
            .slice(0, MOST_CLASSES)
            .map((one) => `.${name(one)}`);
        steps.unshift(here.localName + id + classes.join(''));
    }

    return steps.join('>');
}

/** Without the characters that the path itself is written with. */
function name(text: string): string {
    return text.slice(0, LONGEST_NAME).replace(/[>.#\s]/g, '_');
}

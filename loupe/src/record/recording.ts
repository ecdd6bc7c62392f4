import { isPicking } from '../point/pick';
import { proposals } from '../point/selectors';
import { arrived, did, type ScriptStep, type Walk } from './steps';
import { madeUp } from './typed';

const FIELDS = 'input, textarea, select, label, option';
const PRESSED = ['button', 'submit', 'reset', 'image', 'checkbox', 'radio', 'color', 'file'];

/**
 * Notes what somebody does on this page while they walk through the site; nothing is kept from being done. Returns what ends it.
 *
 * @param walk what was noted so far
 * @param keep keeps what is noted, so that the next page goes on with it
 */
export function record(walk: () => Walk, keep: (walk: Walk) => void): () => void {
    const end = new AbortController();
    const { signal } = end;
    const note = (step: ScriptStep): void => keep(did(walk(), step, Date.now()));
    const on = <K extends keyof WindowEventMap>(name: K, act: (target: Element) => void): void =>
        window.addEventListener(
            name,
            (event) => {
                if (event.target instanceof Element && event.target.localName !== 'plx-loupe' && event.isTrusted && !isPicking()) {
                    act(event.target);
                }
            },
            { capture: true, signal },
        );
    on('click', (target) => {
        // The thing that is pressed, and not the picture or the words within it.
        const pressed = target.closest('a[href], button, summary, [role=button], input, select, textarea, label') ?? target;
        const isPressed = pressed instanceof HTMLInputElement ? PRESSED.includes(pressed.type) : !pressed.matches(FIELDS);
        const element = isPressed ? selectorOf(pressed) : null;
        if (element !== null) {
            note({ do: 'click', element });
        }
    });
    on('change', (target) => {
        const element = selectorOf(target);
        if (element === null) {
            return;
        }
        if (target instanceof HTMLSelectElement) {
            note({ do: 'choose', element, value: target.selectedOptions[0]?.textContent.trim() || target.value });
        } else if (target instanceof HTMLTextAreaElement || (target instanceof HTMLInputElement && !PRESSED.includes(target.type))) {
            note({ do: 'type', element, value: madeUp(target) });
        }
    });
    on('submit', (target) => {
        const element = selectorOf(target);
        if (element !== null) {
            note({ do: 'submit', element });
        }
    });

    return () => end.abort();
}

/** Notes that this page was loaded, and how. */
export function note(walk: Walk): Walk {
    const [entry] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[];
    const how = entry?.type === 'reload' || entry?.type === 'back_forward' ? entry.type : 'navigate';

    return arrived(walk, location.pathname + location.search, how, Date.now());
}

export function selectorOf(element: Element): string | null {
    return proposals(element)[0]?.selector ?? null;
}

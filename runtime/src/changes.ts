import type { Change } from './types';

export interface Applied {
    /** The changes whose element has not appeared yet. */
    missing(): Change[];
    /** True once: what is missing is reported one time only. */
    tell(): boolean;
    /** No element that appears from now on is changed. */
    stop(): void;
}

/**
 * Applies changes to every element that their selectors find, now and whenever the page grows.
 * `whenAll` is called once, when each change has found at least one element.
 */
export function applyChanges(changes: Change[], whenAll: () => void): Applied {
    const done = changes.map(() => new WeakSet<Element>());
    const missing = new Set(changes);
    let told = false;

    const apply = (): void => {
        changes.forEach((change, i) => {
            for (const element of find(change.selector)) {
                if (!done[i].has(element)) {
                    done[i].add(element);
                    applyTo(element, change);
                    missing.delete(change);
                }
            }
        });
        if (missing.size === 0 && !told) {
            told = true;
            whenAll();
        }
    };

    apply();
    const stop = watch(apply);
    let reported = false;

    return {
        missing: () => [...missing],
        tell: () => !reported && (reported = true),
        stop,
    };
}

const watching = new Set<() => void>();
let observer: MutationObserver | null = null;

/** One observer for all experiments, which begins when the first changes are made: they are no news to it. */
function watch(apply: () => void): () => void {
    watching.add(apply);
    if (!observer) {
        observer = new MutationObserver(() => watching.forEach((one) => one()));
        queueMicrotask(() => observer?.observe(document.documentElement, { childList: true, subtree: true }));
    }

    return () => void watching.delete(apply);
}

function find(selector: string): Iterable<Element> {
    try {
        return document.querySelectorAll(selector);
    } catch {
        // Not a selector that this browser knows: the change stays missing, and is reported as such.
        return [];
    }
}

function applyTo(element: Element, change: Change): void {
    if (change.kind === 'text') {
        element.textContent = change.value;
    } else if (change.property && 'style' in element) {
        // Without the priority, the page's own style sheet could win and nobody would know.
        (element as HTMLElement).style.setProperty(change.property, change.value, 'important');
    }
}

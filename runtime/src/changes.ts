import { isOwn, make, sheet, type Made } from './make';
import { parts } from './parts';
import type { Change } from './types';

/** So often a change is made again that the page takes back. */
const MOST_TIMES = 20;

/** So many elements a change is made to. */
const MOST_ELEMENTS = 500;

export interface Applied {
    /** The changes whose element has not appeared yet. */
    missing(): Change[];
    /** Those that the page took back until nothing was left to be done, and how often they were made in all. */
    reverted(): { changes: Change[]; times: number };
    /** True once: what is missing is reported one time only. */
    tell(): boolean;
    /** Takes back what was made; no element that appears from now on is changed. */
    stop(): void;
}

export interface Work {
    change: Change;
    made: Map<Element | null, Made>;
    times: number;
}

/**
 * Makes changes to every element that their selectors find, now and whenever the page grows, and again where the page takes
 * them back. `whenAll` is called once, when each change has been made to at least one element.
 */
export function applyChanges(changes: Change[], whenAll: () => void, failed: (number: number, message: string) => void): Applied {
    const all: Work[] = changes.map((change) => ({ change, made: new Map(), times: 0 }));
    const missing = new Set(changes);
    let told = false;
    let reported = false;

    const guarded = (work: Work, act: () => Made | null, element: Element | null): void => {
        try {
            const made = act();
            if (made) {
                work.made.set(element, made);
                missing.delete(work.change);
            }
        } catch (error) {
            // It is not tried again on this element.
            work.made.set(element, { holds: () => true, undo: () => undefined });
            missing.delete(work.change);
            failed(changes.indexOf(work.change) + 1, String((error as Error)?.message ?? error));
        }
    };

    const apply = (grown: boolean): void => {
        for (const work of all) {
            if (parts().media?.(work, missing, apply)) {
                continue;
            }
            for (const [element, made] of work.made) {
                if (element && !element.isConnected && work.change.kind !== 'remove') {
                    // The page took it away, and has another one or none.
                    work.made.delete(element);
                } else if (work.times < MOST_TIMES && !made.holds()) {
                    work.times++;
                    guarded(work, () => (element ? make(element, work.change) : sheet(work.change.value ?? '')), element);
                }
            }
            if (grown && work.change.selector) {
                for (const element of find(work.change.selector, work.change)) {
                    if (!work.made.has(element) && work.made.size < MOST_ELEMENTS) {
                        guarded(work, () => make(element, work.change), element);
                    }
                }
            }
        }
        if (missing.size === 0 && !told) {
            told = true;
            whenAll();
        }
    };

    all.forEach((work, i) => {
        const code = work.change.value ?? '';
        if (work.change.kind === 'sheet') {
            guarded(work, () => sheet(code), null);
        } else if (work.change.kind === 'script') {
            missing.delete(work.change);
            const message = parts().script?.(code) ?? null;
            if (message !== null) {
                failed(i + 1, message);
            }
        }
    });
    apply(true);
    const stop = watch(apply, changes);

    return {
        missing: () => [...missing],
        reverted: () => ({
            changes: all.filter(({ times }) => times >= MOST_TIMES).map(({ change }) => change),
            times: all.reduce((sum, { times }) => sum + times, 0),
        }),
        tell: () => !reported && (reported = true),
        stop: () => {
            stop();
            // The last first: one may have built on another.
            all.splice(0)
                .reverse()
                .forEach(({ made }) => [...made.values()].reverse().forEach((one) => one.undo()));
        },
    };
}

const watching = new Map<(grown: boolean) => void, Change[]>();
let observer: MutationObserver | null = null;
let isAsked = false;

/** One observer for everything, which begins when the first changes are made: they are no news to it. Returns what ends it. */
export function watch(apply: (grown: boolean) => void, changes: Change[]): () => void {
    watching.set(apply, changes);
    observer ??= new MutationObserver((records) => {
        const grown = records.some(({ type }) => type === 'childList');
        watching.forEach((_, one) => one(grown));
    });
    if (!isAsked) {
        isAsked = true;
        queueMicrotask(observe);
    }

    return () => void watching.delete(apply);
}

/** Once for all that begin to watch together: what is looked for depends on all of them. */
function observe(): void {
    isAsked = false;
    const kinds = new Set([...watching.values()].flat().map(({ kind }) => kind));
    const names = [...watching.values()].flat().flatMap(({ attribute }) => attribute ?? []);
    const attributes = [...names, ...(kinds.has('style') || kinds.has('hide') ? ['style'] : []), ...(kinds.has('class') ? ['class'] : [])];
    observer?.observe(document, {
        childList: true,
        subtree: true,
        ...(kinds.has('text') ? { characterData: true } : {}),
        ...(attributes.length > 0 ? { attributeFilter: attributes } : {}),
    });
}

function find(selector: string, change: Change): Element[] {
    try {
        return Array.from(document.querySelectorAll(selector)).filter((element) => !isOwn(element, change));
    } catch {
        // Not a selector that this browser knows: the change stays missing, and is reported as such.
        return [];
    }
}

import { matches, type Facts } from './rules';
import type { Trigger } from './types';

/** Something that happened on the page, as triggers see it. */
export type Happening =
    | { kind: 'page' }
    | { kind: 'event'; name: string }
    | { kind: 'click' | 'form'; element: Element }
    | { kind: 'scroll'; percent: number }
    | { kind: 'element'; selector: string }
    | { kind: 'data' };

/** Null where the trigger has nothing to do with what happened; else whether it fires, and why or why not. */
export function judge(trigger: Trigger, happening: Happening, facts: Facts): { fires: boolean; why: string } | null {
    if (trigger.kind !== happening.kind) {
        return null;
    }
    let why = 'page view';
    if (happening.kind === 'event') {
        if (happening.name !== trigger.name) {
            return null;
        }
        why = `event ${happening.name}`;
    } else if (happening.kind === 'click' || happening.kind === 'form') {
        if (!closest(happening.element, trigger.selector ?? '')) {
            return null;
        }
        why = `${happening.kind} on ${trigger.selector}`;
    } else if (happening.kind === 'scroll') {
        if (happening.percent < (trigger.percent ?? 0)) {
            return null;
        }
        why = `scrolled to ${trigger.percent} %`;
    } else if (happening.kind === 'element') {
        if (happening.selector !== trigger.selector) {
            return null;
        }
        why = `${trigger.selector} is on the page`;
    } else if (happening.kind === 'data') {
        why = 'data layer push';
    }
    if (trigger.when && !matches(trigger.when, facts)) {
        return { fires: false, why: `${why}, but its condition does not hold` };
    }
    if (trigger.pages && !matches(trigger.pages, facts)) {
        return { fires: false, why: `${why}, but the page rule does not match` };
    }

    return { fires: true, why };
}

export function closest(element: Element, selector: string): Element | null {
    try {
        return element.closest(selector);
    } catch {
        // Not a selector that this browser knows.
        return null;
    }
}

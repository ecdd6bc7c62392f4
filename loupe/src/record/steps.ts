/** One step of a rehearsal's script (docs/formats.md, "Script of a rehearsal"). */
export interface ScriptStep {
    do: 'open' | 'follow' | 'click' | 'type' | 'choose' | 'submit' | 'back' | 'reload' | 'consent' | 'expect';
    path?: string;
    element?: string;
    value?: string;
    text?: string;
    categories?: string[];
    variants?: string[];
}

/** A walk through the site while it is recorded. */
export interface Walk {
    steps: ScriptStep[];
    /** When the last step was done, in milliseconds. */
    at: number;
}

export const MOST_STEPS = 80;

/** A page that comes so long after a click was led to by it. */
const LEADS_MS = 10_000;
/** A form that is sent so soon after a click was sent by it. */
const SENDS_MS = 1000;

/** A page was loaded. */
export function arrived({ steps, at }: Walk, path: string, how: 'navigate' | 'back_forward' | 'reload', now: number): Walk {
    const last = steps[steps.length - 1];
    if (!last) {
        return { steps: [{ do: 'open', path }], at: now };
    }
    if (how === 'reload') {
        return added({ steps, at }, { do: 'reload' }, now);
    }
    if (how === 'back_forward') {
        return added({ steps, at }, { do: 'back' }, now);
    }
    if (last.do === 'click' && now - at <= LEADS_MS) {
        return { steps: [...steps.slice(0, -1), { do: 'follow', path, element: last.element }], at: now };
    }
    if (last.do === 'submit' && now - at <= LEADS_MS) {
        // Sending the form leads there.
        return { steps, at: now };
    }

    return added({ steps, at }, { do: 'open', path }, now);
}

/** Something was done on a page. */
export function did(walk: Walk, step: ScriptStep, now: number): Walk {
    const last = walk.steps[walk.steps.length - 1];
    if (step.do === 'submit' && last?.do === 'click' && now - walk.at <= SENDS_MS) {
        // The click was on the form's own button.
        return { steps: [...walk.steps.slice(0, -1), step], at: now };
    }
    if ((step.do === 'type' || step.do === 'choose') && last?.do === step.do && last.element === step.element) {
        return { steps: [...walk.steps.slice(0, -1), step], at: now };
    }

    return added(walk, step, now);
}

/** Without one of the steps; what is left begins with a page all the same. */
export function dropped(walk: Walk, at: number): Walk {
    return { ...walk, steps: walk.steps.filter((_, i) => i !== at) };
}

export function stepWords({ do: what, path, element, value, text, categories, variants }: ScriptStep): string {
    const only = variants ? ` (in ${variants.join(', ')})` : '';
    switch (what) {
        case 'open':
            return `open ${path}`;
        case 'follow':
            return `go on to ${path} by ${element}`;
        case 'type':
            return `type made-up data (${value}) into ${element}`;
        case 'choose':
            return `choose “${value}” in ${element}`;
        case 'submit':
            return `send the form ${element}`;
        case 'back':
            return 'go back';
        case 'reload':
            return 'load the page again';
        case 'consent':
            return categories?.length ? `give consent to ${categories.join(', ')}` : 'refuse consent';
        case 'expect':
            return `expect ${element}${text ? ` with the text “${text}”` : ''}${only}`;
        default:
            return `click ${element}`;
    }
}

function added({ steps }: Walk, step: ScriptStep, now: number): Walk {
    return { steps: [...steps, step].slice(0, MOST_STEPS), at: now };
}

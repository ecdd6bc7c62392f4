import type { Work } from './changes';
import type { Change, Configuration } from './types';

/** Where a redirect test has sent a visitor here from. */
export interface Arrival {
    experiment: string;
    variant: string;
    /** Where the visitor had come from before. */
    referrer: string;
}

/** What only some experiments need: each stands before the runtime in the file of a site that has such experiments. */
export interface Parts {
    script?: (code: string) => string | null;
    /** Whether a change is for other widths than the window has now: then it is taken back, until `apply` makes it again. */
    media?: (work: Work, missing: Set<Change>, apply: (grown: boolean) => void) => boolean;
    redirect?: {
        isVisitor(isMarked: boolean): boolean;
        leave(configuration: Configuration, experiment: string, variant: string, target: string, referrer: string): string | null;
        arrival(configuration: Configuration, cookies: string): Arrival | null;
    };
}

export function parts(): Parts {
    return window.pellixSite?.parts ?? {};
}

export function offer(part: Parts): void {
    const site = window.pellixSite;
    if (site) {
        site.parts = { ...site.parts, ...part };
    }
}

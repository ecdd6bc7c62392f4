import type { Configuration } from '../../runtime/src/types';
import type { Change, Kept } from './change/list';

/** What Pellix says when the Loupe opens (app/Loupe/Opening.php). */
export interface Opening {
    purpose: 'look' | 'preview' | 'change';
    site: string;
    time_zone: string;
    made_by: string;
    recipient: string;
    ends: string;
    /** Address of the live feed of what previews sent; null for a preview that somebody was sent. */
    feed: string | null;
    /** Key of the experiment that the link is of, and of the only variant that it shows. */
    experiment: string | null;
    variant: string | null;
    experiments: Named[];
    /** The changes of the variant that the link is to change; null where it changes nothing. */
    draft: Kept | null;
    configuration: Configuration;
}

export interface Named {
    key: string;
    name: string;
    state: string;
    epoch: number;
    variants: { key: string; name: string; control: boolean }[];
}

/** What arrived of one previewing visitor (app/Loupe/Heard.php). */
export interface Heard {
    events: { id: string; times: number; verdict: string; mistakes: { property: string; message: string }[] }[];
    rejected: { reason: string; message: string; sample: string }[];
    goals: { key: string; name: string; hits: string[][] }[];
}

/** Pellix has answered, and said no. */
export class Refused extends Error {}

/** Somebody has done something there already. */
export class Conflict extends Error {}

/**
 * Asks Pellix from the page: without cookies, and as text, so that the browser needs no permission first.
 *
 * @throws Refused where the link does not hold; Conflict where somebody was there before; another error where nobody answers
 */
export async function ask<T>(
    what: 'open' | 'heard' | 'draft' | 'keep' | 'goal' | 'script',
    body: Record<string, string | Change[]>,
): Promise<T> {
    const answer = await fetch(new URL(`/loupe/${what}`, window.pellixSite!.collector), {
        method: 'POST',
        body: JSON.stringify(body),
        credentials: 'omit',
        referrerPolicy: 'no-referrer',
    });
    const told = (await answer.json()) as T & { message?: string };
    if (answer.status === 403) {
        throw new Refused(told.message);
    }
    if (answer.status === 409) {
        throw new Conflict(told.message);
    }
    if (!answer.ok) {
        throw new Error(told.message ?? `Pellix answered with ${answer.status}.`);
    }

    return told;
}

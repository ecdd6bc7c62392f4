import type { History } from './change/Draft';
import type { Walk } from './record/steps';
import { shelf } from './shelf';

const KEPT = 'plx_loupe';
const PARAMETER = 'plx-loupe';

export type Edge = 'bottom' | 'top' | 'left' | 'right';

/** Who the page takes its visitor for: this browser as it is, somebody new, or somebody who has been here. */
export type Who = 'own' | 'new' | 'returning';

/** All that the Loupe keeps, for this tab only. */
export interface Ticket {
    token: string;
    edge: Edge;
    isFolded: boolean;
    tab: 'change' | 'try' | 'look' | 'point' | 'record';
    who: Who;
    /** experiment => variant that was chosen. */
    chosen: Record<string, string>;
    /** Pixels of the frame that the page is shown in; null for the window itself. */
    width: number | null;
    /** The time that the page is shown at, by the clock of the site; null for now. */
    at: string | null;
    /** What the page takes the browser for; null for what it is. */
    agent: string | null;
    /** Whether clicks on the page choose what is to be changed, or do what they always do. */
    isPointing: boolean;
    /** Steps that can be taken back, and those that were. */
    history: History;
    /** What is recorded of a walk through the site; null where none is. */
    walk: Walk | null;
    /** What the runtime keeps instead of the visitor's cookies and storage; null before it has begun. */
    jar: { cookies: Record<string, string>; localStorage: Record<string, string>; sessionStorage: Record<string, string> } | null;
}

const FRESH: Omit<Ticket, 'token'> = {
    edge: 'bottom',
    isFolded: false,
    tab: 'change',
    who: 'new',
    chosen: {},
    width: null,
    at: null,
    agent: null,
    isPointing: true,
    history: { past: [], future: [] },
    walk: null,
    jar: null,
};

/** The token of a link that has just been followed is taken out of the address at once, before anybody notes it down. */
export function ticket(): Ticket | null {
    const own = new RegExp(`[#&]${PARAMETER}=([A-Za-z0-9]+)`).exec(location.hash);
    if (own) {
        const rest = location.hash
            .replace(own[0], own[0].startsWith('#') && location.hash.length > own[0].length ? '#' : '')
            .replace(/^#&/, '#');
        history.replaceState(history.state, '', location.pathname + location.search + (rest === '#' ? '' : rest));
        const before = kept();
        // The same link once more goes on where it was.
        return before?.token === own[1] ? before : { ...FRESH, token: own[1] };
    }

    return kept();
}

export function keep(one: Ticket): void {
    shelf.set(KEPT, JSON.stringify(one));
}

export function drop(): void {
    shelf.drop(KEPT);
}

/** An address with the link in it, for another host of the site, where this tab keeps something else. */
export function withTicket(address: string, { token }: Ticket): string {
    const url = new URL(address);
    url.hash = `${url.hash ? `${url.hash}&` : ''}${PARAMETER}=${token}`;

    return url.href;
}

function kept(): Ticket | null {
    try {
        const one = JSON.parse(shelf.get(KEPT) ?? 'null') as Partial<Ticket> | null;

        return one && typeof one.token === 'string' ? { ...FRESH, ...one, token: one.token } : null;
    } catch {
        return null;
    }
}

import { keeping } from '../../../runtime/src/keeping';
import { randomId } from '../../../runtime/src/visitor';
import type { Ticket } from '../ticket';

const OURS = 'plx_';
const VARIANTS = 'plx_variants';
const CONSENT = 'plx_consent';
const DAY = 86_400_000;

/** Cookies by their names, as the page has them. */
export function realCookies(): Record<string, string> {
    if (window.pellixCopy) {
        // It may keep nothing.
        return {};
    }

    return Object.fromEntries(
        document.cookie
            .split('; ')
            .filter(Boolean)
            .map((one) => [one.slice(0, one.indexOf('=')), one.slice(one.indexOf('=') + 1)]),
    );
}

function ours(all: Record<string, string>): Record<string, string> {
    return Object.fromEntries(Object.entries(all).filter(([name]) => name.startsWith(OURS)));
}

/** What a preview begins with, as somebody's own browser would. */
export function freshJar(who: Ticket['who']): NonNullable<Ticket['jar']> {
    const cookies = who === 'own' ? ours(realCookies()) : who === 'returning' ? { plx_visitor: randomId() } : {};

    return { cookies, localStorage: {}, sessionStorage: {} };
}

/** The variant that somebody has chosen is one that the visitor has got before. */
export function giveVariant(ticket: Ticket, experiment: string, variant: string): void {
    const jar = (ticket.jar ??= freshJar(ticket.who));
    const others = (jar.cookies[VARIANTS] ?? '').split('|').filter((pair) => pair && !pair.startsWith(`${experiment}~`));
    jar.cookies[VARIANTS] = [...others, `${experiment}~${variant}~${Math.floor(Date.now() / DAY).toString(36)}`].join('|');
}

/** Null for a visitor who has not been asked. */
export function agreed(ticket: Ticket): string[] | null {
    return ticket.jar?.cookies[CONSENT]?.split('.').filter((one) => one && one !== 'none') ?? null;
}

export function agree(ticket: Ticket, categories: string[] | null): void {
    const jar = (ticket.jar ??= freshJar(ticket.who));
    if (categories === null) {
        delete jar.cookies[CONSENT];
    } else {
        jar.cookies[CONSENT] = categories.join('.') || 'none';
    }
}

/**
 * Has the runtime keep everything in the preview's own jar: of the visitor's cookies and storage nothing is written, and of what Pellix
 * keeps there nothing is read again.
 */
export function takeJar(ticket: Ticket, save: () => void): void {
    const jar = (ticket.jar ??= freshJar(ticket.who));
    keeping.cookies = () => {
        const others = Object.entries(realCookies()).filter(([name]) => !name.startsWith(OURS));

        return [...others, ...Object.entries(jar.cookies)].map(([name, value]) => `${name}=${value}`).join('; ');
    };
    keeping.write = (cookie) => {
        const [pair, ...rest] = cookie.split('; ');
        const at = pair.indexOf('=');
        if (rest.includes('Max-Age=0')) {
            delete jar.cookies[pair.slice(0, at)];
        } else {
            jar.cookies[pair.slice(0, at)] = pair.slice(at + 1);
        }
        save();
    };
    keeping.storage = (name) => shelf(jar[name], save);
    const real = navigator.userAgent;
    keeping.agent = () => ticket.agent ?? real;
}

/** Looks like a storage: its names are its own. */
function shelf(kept: Record<string, string>, save: () => void): Storage {
    const methods = {
        getItem: (name: string) => kept[name] ?? null,
        setItem: (name: string, value: string) => {
            kept[name] = String(value);
            save();
        },
        removeItem: (name: string) => {
            delete kept[name];
            save();
        },
    };

    return Object.assign(Object.create(methods) as Storage, kept);
}

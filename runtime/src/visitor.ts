import { keeping } from './keeping';
import type { Configuration, Props } from './types';

const VISITOR = 'plx_visitor';
const VARIANTS = 'plx_variants';
/** Names of marks, and of the properties of events that tell them: who looks for their own visits, and who is one of the site's own people. */
const MARKS = { plx_me: 'me', plx_own: 'plx_own' };
const DAY = 86_400_000;
/** Browsers keep at least 4096 bytes a cookie (RFC 6265, 6.1); the oldest assignments go first. */
const MOST_BYTES = 3000;

/** The visitor's random id and the variants it has got, in first-party cookies. */
export interface Visitor {
    id: string;
    /** False where cookies are refused: the id lasts for this page only. */
    lasting: boolean;
    returning: boolean;
    /** What it got, unless that is longer ago than so many days. */
    variant(experiment: string, lifetimeDays?: number): string | undefined;
    keep(experiment: string, variant: string, lifetimeDays?: number): void;
    /** Writes what was kept; apart from keeping, since a cookie takes its time to be written. */
    save(): void;
}

/** `cookies` is what was read before: each reading makes the browser ask another process. */
export function visitor(configuration: Configuration, cookies = keeping.cookies()): Visitor {
    const known = readCookie(VISITOR, cookies);
    const id = known && /^[a-z0-9]{20,40}$/.test(known) ? known : randomId();
    writeCookie(configuration, VISITOR, id);
    const today = Math.floor(Date.now() / DAY);
    /** experiment => variant and the day that it was got on, in days since 1970. */
    const kept = new Map<string, [variant: string, day: number]>();
    let isNews = false;
    for (const pair of (readCookie(VARIANTS, cookies) ?? '').split('|')) {
        const [experiment, variant, day] = pair.split('~');
        if (variant) {
            kept.set(experiment, [variant, day ? parseInt(day, 36) : today]);
        }
    }

    return {
        id,
        // Whoever came back with it has shown that it lasts.
        lasting: known === id || readCookie(VISITOR) === id,
        returning: known === id,
        variant(experiment, lifetimeDays) {
            const [variant, day] = kept.get(experiment) ?? [];

            return lifetimeDays !== undefined && day !== undefined && today - day >= lifetimeDays ? undefined : variant;
        },
        keep(experiment, variant, lifetimeDays) {
            // Seeing it again makes it no younger, as long as it lasts.
            if (this.variant(experiment, lifetimeDays) !== variant) {
                kept.set(experiment, [variant, today]);
            }
            // Also what it has already: the cookie lasts anew.
            isNews = true;
        },
        save() {
            if (!isNews) {
                return;
            }
            isNews = false;
            let text = [...kept].map(([experiment, [variant, day]]) => `${experiment}~${variant}~${day.toString(36)}`).join('|');
            while (text.length > MOST_BYTES) {
                text = text.slice(text.indexOf('|') + 1);
            }
            if (text) {
                writeCookie(configuration, VARIANTS, text);
            }
        },
    };
}

/** Erases everything by which this visitor could be told again. */
export function eraseVisitor(configuration: Configuration): void {
    [VISITOR, VARIANTS, ...Object.keys(MARKS), 'plx_from'].forEach((name) => writeCookie({ ...configuration, cookieSeconds: 0 }, name, ''));
    for (const storage of ['localStorage', 'sessionStorage'] as const) {
        try {
            const own = keeping.storage(storage);
            Object.keys(own).forEach((name) => name.startsWith('plx_') && own.removeItem(name));
        } catch {
            // No storage: nothing is kept there.
        }
    }
}

/** The marks of this browser as properties of its events: given once in the address (`?plx_me=…`), then kept; `0` takes one away. */
export function marks(configuration: Configuration, cookies = keeping.cookies()): Props {
    const found: Props = {};
    for (const [name, property] of Object.entries(MARKS)) {
        const given = RegExp(`[?&]${name}=(0|[a-z0-9]{6,20})(?:&|#|$)`).exec(location.href)?.[1];
        const mark = given ?? readCookie(name, cookies);
        if (given) {
            writeCookie(given === '0' ? { ...configuration, cookieSeconds: 0 } : configuration, name, given);
        }
        if (mark && mark !== '0') {
            found[property] = mark;
        }
    }

    return found;
}

/** Random bytes, of which each is used once: asking for many at a time costs as much as for a few. */
const random = new Uint8Array(1024);
let used = random.length;

/** 26 of a-z and 0-9: over 128 random bits. */
export function randomId(): string {
    let id = '';
    while (id.length < 26) {
        if (used >= random.length) {
            crypto.getRandomValues(random);
            used = 0;
        }
        const byte = random[used++];
        // 252 is the largest multiple of 36 in a byte: larger bytes would favour the first characters.
        if (byte < 252) {
            id += (byte % 36).toString(36);
        }
    }

    return id;
}

export function readCookie(name: string, cookies = keeping.cookies()): string | undefined {
    for (const cookie of cookies.split('; ')) {
        if (cookie.startsWith(`${name}=`)) {
            return cookie.slice(name.length + 1);
        }
    }
}

export function writeCookie(configuration: Configuration, name: string, value: string): void {
    const domain = configuration.domain ? `; Domain=${configuration.domain}` : '';
    const secure = location.protocol === 'https:' ? '; Secure' : '';
    keeping.write(`${name}=${value}; Path=/; Max-Age=${configuration.cookieSeconds}; SameSite=Lax${domain}${secure}`);
}

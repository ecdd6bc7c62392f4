import type { Configuration } from './types';

const VISITOR = 'plx_visitor';
const VARIANTS = 'plx_variants';
const CONSENT = 'plx_consent';
const MARK = 'plx_me';
/** Browsers keep at least 4096 bytes a cookie (RFC 6265, 6.1); the oldest assignments go first. */
const MOST_BYTES = 3000;

/** The visitor's random id and the variants it has got, in first-party cookies. */
export interface Visitor {
    id: string;
    /** False where cookies are refused: the id lasts for this page only. */
    lasting: boolean;
    returning: boolean;
    variant(experiment: string): string | undefined;
    keep(experiment: string, variant: string): void;
    /** Writes what was kept; apart from keeping, since a cookie takes its time to be written. */
    save(): void;
}

/** `cookies` is what was read before: each reading makes the browser ask another process. */
export function visitor(configuration: Configuration, cookies = document.cookie): Visitor {
    const known = read(VISITOR, cookies);
    const id = known && /^[a-z0-9]{20,40}$/.test(known) ? known : randomId();
    write(configuration, VISITOR, id);
    const kept = new Map<string, string>();
    for (const pair of (read(VARIANTS, cookies) ?? '').split('|')) {
        const [experiment, variant] = pair.split('~');
        if (variant) {
            kept.set(experiment, variant);
        }
    }

    return {
        id,
        lasting: read(VISITOR) === id,
        returning: known === id,
        variant: (experiment) => kept.get(experiment),
        keep: (experiment, variant) => void kept.set(experiment, variant),
        save() {
            let text = [...kept].map((pair) => pair.join('~')).join('|');
            while (text.length > MOST_BYTES) {
                text = text.slice(text.indexOf('|') + 1);
            }
            if (text) {
                write(configuration, VARIANTS, text);
            }
        },
    };
}

/** What the visitor has agreed to; null where nobody has asked yet. */
export function consent(cookies = document.cookie): string[] | null {
    return read(CONSENT, cookies)?.split('.').filter(Boolean) ?? null;
}

export function keepConsent(configuration: Configuration, categories: string[]): void {
    write(configuration, CONSENT, categories.join('.') || 'none');
    if (!categories.includes('statistics')) {
        [VISITOR, VARIANTS].forEach((name) => write({ ...configuration, cookieSeconds: 0 }, name, ''));
        try {
            Object.keys(localStorage).forEach((name) => name.startsWith('plx_') && localStorage.removeItem(name));
        } catch {
            // No storage: nothing is kept there.
        }
    }
}

/** The mark by which somebody finds their own visits in the live feed: given once in the address (`?plx_me=…`), then kept. */
export function mark(configuration: Configuration, cookies = document.cookie): string | null {
    const given = /[?&]plx_me=([a-z0-9]{6,20})(?:&|#|$)/.exec(location.href)?.[1];
    if (given) {
        write(configuration, MARK, given);
    }

    return given ?? read(MARK, cookies) ?? null;
}

/** 26 of a-z and 0-9: over 128 random bits. */
export function randomId(): string {
    // 252 is the largest multiple of 36 in a byte: larger bytes would favour the first characters.
    let id = '';
    while (id.length < 26) {
        for (const byte of crypto.getRandomValues(new Uint8Array(32))) {
            if (byte < 252 && id.length < 26) {
                id += (byte % 36).toString(36);
            }
        }
    }

    return id;
}

export function read(name: string, cookies = document.cookie): string | undefined {
    for (const cookie of cookies.split('; ')) {
        if (cookie.startsWith(`${name}=`)) {
            return cookie.slice(name.length + 1);
        }
    }
}

function write(configuration: Configuration, name: string, value: string): void {
    const domain = configuration.domain ? `; Domain=${configuration.domain}` : '';
    const secure = location.protocol === 'https:' ? '; Secure' : '';
    document.cookie = `${name}=${value}; Path=/; Max-Age=${configuration.cookieSeconds}; SameSite=Lax${domain}${secure}`;
}

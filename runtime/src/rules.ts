import type { Rule, Value } from './types';

export type Facts = (fact: string) => Value | null;

/** A longer text matches no pattern (core/src/Rules/Pattern.php). */
const LONGEST_TEXT = 1000;

/** Evaluates a rule as core/src/Rules does; the vectors in tests/vectors hold the two together. */
export function matches(rule: Rule, facts: Facts): boolean {
    if ('all' in rule) {
        return rule.all.every((part) => matches(part, facts));
    }
    if ('any' in rule) {
        return rule.any.some((part) => matches(part, facts));
    }
    if ('not' in rule) {
        return !matches(rule.not, facts);
    }
    const isPath = rule.fact === 'url.path' && rule.op !== 'matches';
    const spell = <T>(one: T): T | string => (typeof one === 'string' ? spelled(one, isPath, rule.ignore ?? []) : one);
    const found = facts(rule.fact);
    const fact = typeof found === 'string' && rule.op === 'matches' && rule.fact === 'url.path' ? spellPath(found) : spell(found);
    const value = Array.isArray(rule.value) ? rule.value.map(spell) : spell(rule.value);
    const text = typeof fact === 'string' && typeof value === 'string' ? fact : null;
    const number = typeof fact === 'number' && typeof value === 'number' ? fact - value : NaN;

    switch (rule.op) {
        case 'exists':
            return fact !== null;
        case 'is':
            return fact === value;
        case 'is-not':
            return fact !== value;
        case 'in':
            return Array.isArray(value) && fact !== null && value.includes(fact);
        case 'starts':
            return text !== null && text.startsWith(value as string);
        case 'ends':
            return text !== null && text.endsWith(value as string);
        case 'contains':
            return text !== null && text.includes(value as string);
        case 'matches':
            return text !== null && utf8Length(text) <= LONGEST_TEXT && test(value as string, text);
        case 'lt':
            return number < 0;
        case 'lte':
            return number <= 0;
        case 'gt':
            return number > 0;
        case 'gte':
            return number >= 0;
        default:
            return false;
    }
}

/** One spelling for texts that mean the same, as core/src/Rules/Spelling.php has it. */
function spelled(text: string, isPath: boolean, ignored: string[]): string {
    text = isPath ? spellPath(text) : text;
    if (ignored.includes('case')) {
        text = text.replace(/[A-Z]/g, (letter) => letter.toLowerCase());
    }

    return ignored.includes('slash') && text.length > 1 ? text.replace(/\/+$/, '') || '/' : text;
}

/** RFC 3986, 6.2.2.1 and 6.2.2.2. */
function spellPath(path: string): string {
    return path.replace(/[\0-\x20\x7f"<>\\[\]^`{|}]|[^\0-\x7f]+/g, escape).replace(/%([0-9A-Fa-f]{2})/g, (escaped, code) => {
        const character = String.fromCharCode(parseInt(code, 16));

        return /[A-Za-z0-9._~-]/.test(character) ? character : escaped.toUpperCase();
    });
}

function escape(text: string): string {
    try {
        return encodeURIComponent(text);
    } catch {
        // Half a character; no address has one.
        return '%EF%BF%BD';
    }
}

function utf8Length(text: string): number {
    return text.length * 3 <= LONGEST_TEXT ? text.length : new TextEncoder().encode(text).length;
}

/** The `url.*` facts of an absolute address, split by the expression of RFC 3986, appendix B, as in AddressFacts.php. */
export function addressFacts(url: string): Facts {
    const parts = /^([^:/?#]+):\/\/([^/?#\\]*)([^?#]*)(?:\?([^#]*))?(?:#([^]*))?$/.exec(url);
    const host = parts ? parts[2].replace(/^.*@|:\d*$/g, '').toLowerCase() : '';

    return (fact) => {
        if (fact === 'url.full') {
            return url;
        }
        if (!parts || !host) {
            return null;
        }
        switch (fact) {
            case 'url.host':
                return host;
            case 'url.path':
                return parts[3] || '/';
            case 'url.fragment':
                return parts[5] ?? null;
            default:
                return fact.startsWith('url.query.') ? parameter(parts[4] ?? '', fact.slice(10)) : null;
        }
    };
}

/** The value at a path such as `basket.items.0.price`, as EventFacts.php finds it; null where there is no single value. */
export function valueAt(values: unknown, path: string): Value | null {
    const own = (from: unknown, name: string): unknown =>
        typeof from === 'object' &&
        from !== null &&
        (!Array.isArray(from) || /^\d+$/.test(name)) &&
        Object.prototype.hasOwnProperty.call(from, name)
            ? (from as Record<string, unknown>)[name]
            : null;
    const found = own(values, path) ?? path.split('.').reduce(own, values);

    return ['string', 'number', 'boolean'].includes(typeof found) ? (found as Value) : null;
}

function parameter(query: string, name: string): string | null {
    for (const pair of query.split('&')) {
        const equals = pair.indexOf('=');
        const key = equals < 0 ? pair : pair.slice(0, equals);
        if (pair && decode(key) === name) {
            return equals < 0 ? '' : decode(pair.slice(equals + 1));
        }
    }

    return null;
}

export function decode(text: string): string {
    try {
        return decodeURIComponent(text.replace(/\+/g, ' '));
    } catch {
        return text;
    }
}

/** A pattern that this browser cannot read matches nothing, and stops nothing else. */
function test(pattern: string, text: string): boolean {
    try {
        return new RegExp(pattern, 'su').test(text);
    } catch {
        return false;
    }
}

import type { Rule, Value } from './types';

export type Facts = (fact: string) => Value | null;

/** Evaluates a rule as core/src/Rules does; tests/vectors/rules.json holds the two together. */
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
    const fact = facts(rule.fact);
    const value = rule.value;
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

/** The `url.*` facts of an absolute address, split by the expression of RFC 3986, appendix B, as in AddressFacts.php. */
export function addressFacts(url: string): Facts {
    const parts = /^([^:/?#]+):\/\/([^/?#]*)([^?#]*)(?:\?([^#]*))?(?:#([^]*))?$/.exec(url);
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

function decode(text: string): string {
    try {
        return decodeURIComponent(text.replace(/\+/g, ' '));
    } catch {
        return text;
    }
}

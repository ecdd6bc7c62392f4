import { matches, type Facts } from '../../../runtime/src/rules';
import type { Rule } from '../../../runtime/src/types';

/** One condition of a rule, or a group of them, with what it found on this page. */
export interface Traced {
    words: string;
    holds: boolean;
    /** What the fact was; null for a group, or where there is none. */
    found: string | null;
    parts: Traced[];
}

/** Every part of a rule, as the runtime judges it here and now. */
export function traced(rule: Rule, facts: Facts): Traced {
    const holds = matches(rule, facts);
    if ('all' in rule) {
        return {
            words: rule.all.length === 0 ? 'everything' : 'all of',
            holds,
            found: null,
            parts: rule.all.map((part) => traced(part, facts)),
        };
    }
    if ('any' in rule) {
        return { words: 'any of', holds, found: null, parts: rule.any.map((part) => traced(part, facts)) };
    }
    if ('not' in rule) {
        return { words: 'not', holds, found: null, parts: [traced(rule.not, facts)] };
    }
    const value = rule.value === undefined ? '' : ` ${JSON.stringify(rule.value)}`;
    const ignored = rule.ignore?.length ? ` (whatever the ${rule.ignore.join(' and the ')})` : '';
    const found = facts(rule.fact);

    return { words: `${rule.fact} ${rule.op}${value}${ignored}`, holds, found: found === null ? null : JSON.stringify(found), parts: [] };
}

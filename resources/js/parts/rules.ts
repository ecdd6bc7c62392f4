/** The part of page rules that the form writes: one condition on the path. Anything else is shown as its JSON. */
export type PathOp = 'is' | 'starts' | 'contains';

export interface PathRule {
    fact: 'url.path';
    op: PathOp;
    value: string;
}

export const PATH_OPS: { value: PathOp; label: string }[] = [
    { value: 'is', label: 'is exactly' },
    { value: 'starts', label: 'starts with' },
    { value: 'contains', label: 'contains' },
];

export function asPathRule(rule: Record<string, unknown>): PathRule | null {
    return rule.fact === 'url.path' && PATH_OPS.some(({ value }) => value === rule.op) ? (rule as unknown as PathRule) : null;
}

export interface TakenApart {
    value: string;
    note?: string;
    error?: string;
}

/** Takes a pasted address apart: a page rule on the path needs the path alone. */
export function takeApart(typed: string, hosts: string[]): TakenApart {
    const value = typed.trim();
    if (!/^https?:\/\//i.test(value)) {
        return { value };
    }
    let url: URL;
    try {
        url = new URL(value);
    } catch {
        return { value, error: 'This is no complete address. Type the path, such as /join.' };
    }
    if (!hosts.includes(url.hostname)) {
        return {
            value,
            error: `The host ${url.hostname} is none of this site's (${hosts.join(', ')}). Type the path of a page of the site.`,
        };
    }
    const ignored = [url.search && `the query ${url.search}`, url.hash && `the fragment ${url.hash}`].filter(Boolean).join(' and ');

    return {
        value: url.pathname,
        note: `${url.hostname} is one of this site's hosts; the path was kept${ignored ? `, ${ignored} left out` : ''}.`,
    };
}

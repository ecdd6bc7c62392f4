import type { Schemas } from '../../api/client';

type Part = { all?: Part[]; any?: Part[]; fact?: string; op?: string; value?: unknown };

/** A page that an experiment is surely for, where its rule names one; else where the site begins. */
export function firstPage(pages: Schemas['Experiment']['pages'], origin: string): string {
    return origin + (pages === null ? '/' : (path(pages as Part) ?? '/'));
}

function path({ all, any, fact, op, value }: Part): string | null {
    const parts = all ?? any;
    if (parts) {
        return parts.map(path).find((found) => found !== null) ?? null;
    }

    return fact === 'url.path' && (op === 'is' || op === 'starts') && typeof value === 'string' && value.startsWith('/') ? value : null;
}

import { Problem } from '../api/client';

/** Field, as the server names it → what is wrong with it. */
export type FieldErrors = Record<string, string>;

export function fieldErrors(error: unknown): FieldErrors {
    return error instanceof Problem
        ? Object.fromEntries(Object.entries(error.errors).map(([field, messages]) => [field, messages[0]]))
        : {};
}

/**
 * Those that still hold after a change: what is said of a field holds until the field is another. A field that was not sent at
 * all stands for what it is missing from.
 */
export function stillWrong(errors: FieldErrors, before: unknown, after: unknown): FieldErrors {
    return Object.fromEntries(
        Object.entries(errors).filter(([field]) => JSON.stringify(at(before, field)) === JSON.stringify(at(after, field))),
    );
}

function at(value: unknown, path: string): unknown {
    let found = value;
    for (const step of path.split('.')) {
        const next = typeof found === 'object' && found !== null ? (found as Record<string, unknown>)[step] : undefined;
        if (next === undefined) {
            return found;
        }
        found = next;
    }

    return found;
}

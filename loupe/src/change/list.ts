import type { Change as Made } from '../../../runtime/src/types';

/** A change as the draft has it: one that is switched off too, and one that is not right yet. */
export type Change = Made & { off?: boolean };

/** What Pellix has kept of the changes of a variant (app/Loupe/Drafting.php). */
export interface Kept {
    revision: number;
    /** Of the experiment: what is no draft any more is not changed here. */
    state: string;
    changed_by: string | null;
    /** Whether this person may write HTML and scripts. */
    may_code: boolean;
    changes: Change[];
    /** What is wrong with a change, by its index. */
    problems: Record<string, string>;
    /** Indexes of those that somebody else has written anew at the same time. */
    both?: number[];
    /** Who has changed something meanwhile. */
    with?: string | null;
}

export function same(a: unknown, b: unknown): boolean {
    return text(a) === text(b);
}

/** Members in one order: the server may have them in another. */
function text(value: unknown): string {
    return JSON.stringify(value, (_, one: unknown) =>
        one && typeof one === 'object' && !Array.isArray(one)
            ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
            : one,
    );
}

/** Whether two changes set the same thing of the same elements: then the later one is another wording of it. */
export function isAbout(a: Change, b: Change): boolean {
    const singles = ['text', 'html', 'attribute', 'style', 'hide', 'remove'];

    return (
        a.kind === b.kind &&
        singles.includes(a.kind) &&
        a.selector === b.selector &&
        a.property === b.property &&
        a.attribute === b.attribute &&
        a.media === b.media
    );
}

/** With one change more; where there is one about the same thing already, in its place. */
export function withChange(list: Change[], change: Change): Change[] {
    const at = list.findIndex((one) => isAbout(one, change));

    return at === -1 ? [...list, change] : list.map((one, i) => (i === at ? change : one));
}

export function replaced(list: Change[], at: number, change: Change): Change[] {
    return list.map((one, i) => (i === at ? change : one));
}

export function without(list: Change[], at: number): Change[] {
    return list.filter((_, i) => i !== at);
}

export function moved(list: Change[], from: number, to: number): Change[] {
    const rest = without(list, from);

    return [...rest.slice(0, to), list[from], ...rest.slice(to)];
}

export function switched(list: Change[], at: number): Change[] {
    return list.map((one, i) => {
        if (i !== at) {
            return one;
        }
        const { off, ...rest } = one;

        return off ? rest : { ...rest, off: true };
    });
}

/** What the page is to be shown with: neither what is switched off nor what cannot be read. */
export function shown(list: Change[], problems: Record<string, string>, kept: Change[]): Made[] {
    const wrong = Object.keys(problems).map((at) => kept[Number(at)]);

    return list
        .filter((one) => !one.off && !wrong.some((other) => same(one, other)))
        .map((one) => {
            const rest = { ...one };
            delete rest.off;

            return rest;
        });
}

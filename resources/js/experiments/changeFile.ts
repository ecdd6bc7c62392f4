import { CHANGE_KINDS } from '../parts/vocabulary';
import { cleaned, type Change } from './changeDraft';

const MOST = 50;
const MOST_CHARACTERS = 1_000_000;

/** The changes of a variant as a file (docs/formats.md, Change file). */
export function writeChanges(changes: Change[]): string {
    return `${JSON.stringify({ pellix: 1, changes: changes.map(cleaned) }, null, 2)}\n`;
}

/** The changes of a file: of a change file, or of the variant of an experiment file that has any. */
export function readChanges(text: string): Change[] {
    if (text.length > MOST_CHARACTERS) {
        throw new Error('The file is too large to be a list of changes.');
    }
    let json: unknown;
    try {
        json = JSON.parse(text);
    } catch {
        throw new Error('The file holds no JSON.');
    }
    const found = listOf(json);
    if (!found) {
        throw new Error('The file holds no list of changes: {"pellix": 1, "changes": […]} is wanted.');
    }
    const wrong = found.findIndex((one) => !isChange(one));
    if (wrong >= 0) {
        throw new Error(`Change ${wrong + 1} of the file is of no kind that Pellix knows.`);
    }
    if (found.length > MOST) {
        throw new Error(`The file holds ${found.length} changes; a variant makes at most ${MOST}.`);
    }

    return found.map((one) => cleaned(one as Change));
}

function listOf(json: unknown): unknown[] | null {
    const changes = (json as { changes?: unknown } | null)?.changes;
    const variants = (json as { variants?: { changes?: unknown[] }[] } | null)?.variants;

    return Array.isArray(changes)
        ? changes
        : Array.isArray(variants)
          ? (variants.map((one) => one?.changes).find((list) => Array.isArray(list) && list.length > 0) ?? null)
          : null;
}

function isChange(one: unknown): boolean {
    const kind = (one as { kind?: unknown } | null)?.kind;

    return typeof kind === 'string' && kind in CHANGE_KINDS;
}

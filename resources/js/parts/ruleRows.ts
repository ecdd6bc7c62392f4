import { FACTS, factsAt } from './vocabulary';

/** A rule in its JSON form (docs/formats.md). */
export type RuleJson = Record<string, unknown>;

/** One condition while it is being written: texts as they are typed; an op with "not:" before it is the contrary. */
export interface Row {
    /** Ends with a point where a name belongs to it, such as `url.query.`. */
    fact: string;
    name: string;
    op: string;
    value: string;
    ignore: string[];
}

export interface Rows {
    join: 'all' | 'any';
    rows: Row[];
}

export const ADDRESS_FACTS = factsAt('page');
/** What an event tells; which one it is, is asked for beside the rule. */
export const EVENT_FACTS = factsAt('recorded-event').filter((fact) => fact !== 'event.name');
export const PUSH_FACTS = ['data.', ...ADDRESS_FACTS];

export const FACT_LABELS: Record<string, string> = Object.fromEntries(FACTS.map(({ fact, label }) => [fact, label]));

const NAMED = FACTS.filter(({ isNamed }) => isNamed).map(({ fact }) => fact);
const NUMERIC = ['lt', 'lte', 'gt', 'gte'];

const TEXT_OPS = [
    { value: 'is', label: 'is exactly' },
    { value: 'is-not', label: 'is not' },
    { value: 'starts', label: 'starts with' },
    { value: 'ends', label: 'ends with' },
    { value: 'contains', label: 'contains' },
    { value: 'not:contains', label: 'does not contain' },
    { value: 'matches', label: 'matches the pattern' },
    { value: 'in', label: 'is one of' },
];
const EXISTS = [
    { value: 'exists', label: 'exists' },
    { value: 'not:exists', label: 'does not exist' },
];
const NUMBER_OPS = [
    { value: 'gt', label: 'is more than' },
    { value: 'gte', label: 'is at least' },
    { value: 'lt', label: 'is less than' },
    { value: 'lte', label: 'is at most' },
];

export function opsOf(fact: string): { value: string; label: string }[] {
    const isOpen = fact.startsWith('event.props') || fact.startsWith('data');

    return [...TEXT_OPS, ...(NAMED.includes(fact) || fact === 'url.fragment' ? EXISTS : []), ...(isOpen ? NUMBER_OPS : [])];
}

/** The rows that a rule is; null where it has another shape. */
export function asRows(rule: RuleJson): Rows | null {
    const join = 'any' in rule ? 'any' : 'all';
    const parts = join in rule ? rule[join] : [rule];
    if (!Array.isArray(parts)) {
        return null;
    }
    const rows = parts.map((part) => asRow(part as RuleJson));

    return rows.every((row) => row !== null) ? { join, rows } : null;
}

function asRow(part: RuleJson): Row | null {
    const negated = part.not as RuleJson | undefined;
    const leaf = negated ?? part;
    if (typeof leaf.fact !== 'string' || typeof leaf.op !== 'string') {
        return null;
    }
    const named = NAMED.find((prefix) => (leaf.fact as string).startsWith(prefix));
    const row: Row = {
        fact: named ?? leaf.fact,
        name: named ? leaf.fact.slice(named.length) : '',
        op: (negated ? 'not:' : '') + leaf.op,
        value: Array.isArray(leaf.value) ? leaf.value.join(', ') : String(leaf.value ?? ''),
        ignore: (leaf.ignore as string[] | undefined) ?? [],
    };

    return opsOf(row.fact).some((op) => op.value === row.op) ? row : null;
}

export function ruleOf({ join, rows }: Rows): RuleJson {
    const parts = rows.map((row): RuleJson => {
        const op = row.op.replace('not:', '');
        const leaf: RuleJson = { fact: row.fact + row.name.trim(), op };
        if (op === 'in') {
            leaf.value = row.value.split(',').map((one) => one.trim());
        } else if (NUMERIC.includes(op)) {
            leaf.value = row.value.trim() === '' ? null : Number(row.value.replace(',', '.'));
        } else if (op !== 'exists') {
            leaf.value = typed(row);
        }
        // A pattern says itself what does not matter.
        if (row.ignore.length > 0 && op !== 'matches') {
            leaf.ignore = row.ignore;
        }

        return row.op.startsWith('not:') ? { not: leaf } : leaf;
    });

    return parts.length === 1 ? parts[0] : { [join]: parts };
}

/** A property that reads like a number or a truth value is meant as one: texts and numbers are never the same. */
function typed(row: Row): string | number | boolean {
    const isOpen = ['event.props.', 'data.'].includes(row.fact) && ['is', 'is-not'].includes(row.op);
    if (isOpen && /^-?\d+(\.\d+)?$/.test(row.value)) {
        return Number(row.value);
    }

    return isOpen && ['true', 'false'].includes(row.value) ? row.value === 'true' : row.value;
}

export function inWords(rule: RuleJson): string {
    const rows = asRows(rule);
    if (!rows) {
        return JSON.stringify(rule);
    }
    if (rows.rows.length === 0) {
        return 'always';
    }
    const words = rows.rows.map((row) => {
        const op = opsOf(row.fact).find(({ value }) => value === row.op)?.label ?? row.op;
        const ignored = row.ignore.map((one) => ({ case: 'capitals aside', slash: 'slash at the end aside' })[one] ?? one).join(', ');

        return `${FACT_LABELS[row.fact] ?? row.fact}${row.name && ` ${row.name}`} ${op} ${row.value}${ignored && ` (${ignored})`}`.trim();
    });

    return words.join(rows.join === 'all' ? ' and ' : ' or ');
}

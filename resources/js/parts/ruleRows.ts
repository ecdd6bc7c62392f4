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

/** How the parts of a group are joined; `none` and `not-all` are the contraries of `any` and `all`. */
export type Join = 'all' | 'any' | 'none' | 'not-all';

/** Conditions and further groups, joined. */
export interface Rows {
    join: Join;
    rows: (Row | Rows)[];
}

export const JOINS: { value: Join; label: string }[] = [
    { value: 'all', label: 'All of these hold' },
    { value: 'any', label: 'One of these holds' },
    { value: 'none', label: 'None of these holds' },
    { value: 'not-all', label: 'Not all of these hold' },
];

export function isGroup(part: Row | Rows): part is Rows {
    return 'rows' in part;
}

export function emptyRow(fact: string): Row {
    return { fact, name: '', op: 'is', value: '', ignore: [] };
}

export const ADDRESS_FACTS = factsAt('page');
/** What an event tells; which one it is, is asked for beside the rule. */
export const EVENT_FACTS = factsAt('recorded-event').filter((fact) => fact !== 'event.name');
/** What is known of a visitor who views a page, beside the address. */
export const VISITOR_FACTS = factsAt('browser').filter((fact) => !fact.startsWith('event.'));
export const PUSH_FACTS = ['data.', ...ADDRESS_FACTS];

export const FACT_LABELS: Record<string, string> = Object.fromEntries(FACTS.map(({ fact, label }) => [fact, label]));

const VALUES = Object.fromEntries(FACTS.map(({ fact, values }) => [fact, values]));

/** What can be chosen as the value of a condition; none where it is typed. */
export function valuesOf({ fact, op }: Pick<Row, 'fact' | 'op'>): string[] {
    return op === 'is' || op === 'is-not' ? (VALUES[fact] ?? []) : [];
}

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
    if (fact === 'visitor.returning') {
        return TEXT_OPS.slice(0, 2);
    }

    return [...TEXT_OPS, ...(NAMED.includes(fact) || fact === 'url.fragment' ? EXISTS : []), ...(isOpen ? NUMBER_OPS : [])];
}

/** The rows that a rule is; null where it has a shape that no form shows. */
export function asRows(rule: RuleJson): Rows | null {
    const row = asRow(rule);

    return row ? { join: 'all', rows: [row] } : asGroup(rule);
}

function asGroup(rule: RuleJson): Rows | null {
    const negated = isObject(rule.not) ? rule.not : null;
    const inner = negated ?? rule;
    const join = 'any' in inner ? 'any' : 'all';
    const parts = inner[join];
    if (Object.keys(inner).length !== 1 || !Array.isArray(parts)) {
        return null;
    }
    const rows = parts.map((part) => (isObject(part) ? (asRow(part) ?? asGroup(part)) : null));

    return rows.every((row) => row !== null) ? { join: negated ? CONTRARY[join] : join, rows } : null;
}

const CONTRARY = { all: 'not-all', any: 'none' } as const;

function isObject(value: unknown): value is RuleJson {
    return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function asRow(part: RuleJson): Row | null {
    const negated = isObject(part.not) ? part.not : undefined;
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

export function ruleOf(all: Rows): RuleJson {
    const { join, rows } = all;
    const [only] = rows;

    return join === 'all' && rows.length === 1 && !isGroup(only) ? leafOf(only) : groupOf(all);
}

function groupOf({ join, rows }: Rows): RuleJson {
    const parts = rows.map((part) => (isGroup(part) ? groupOf(part) : leafOf(part)));
    switch (join) {
        case 'none':
            return { not: { any: parts } };
        case 'not-all':
            return { not: { all: parts } };
        default:
            return { [join]: parts };
    }
}

function leafOf(row: Row): RuleJson {
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
}

/** A property that reads like a number or a truth value is meant as one: texts and numbers are never the same. */
function typed(row: Row): string | number | boolean {
    const isOpen = ['event.props.', 'data.', 'visitor.returning'].includes(row.fact) && ['is', 'is-not'].includes(row.op);
    if (isOpen && /^-?\d+(\.\d+)?$/.test(row.value)) {
        return Number(row.value);
    }

    return isOpen && ['true', 'false'].includes(row.value) ? row.value === 'true' : row.value;
}

export function inWords(rule: RuleJson): string {
    const rows = asRows(rule);

    return rows ? groupInWords(rows) : JSON.stringify(rule);
}

function groupInWords({ join, rows }: Rows): string {
    const parts = rows.map((part) => (isGroup(part) ? `(${groupInWords(part)})` : rowInWords(part)));
    switch (join) {
        case 'none':
            return parts.length === 0 ? 'always' : `none of: ${parts.join(', ')}`;
        case 'not-all':
            return parts.length === 0 ? 'never' : `not all of: ${parts.join(', ')}`;
        case 'any':
            return parts.length === 0 ? 'never' : parts.join(' or ');
        default:
            return parts.length === 0 ? 'always' : parts.join(' and ');
    }
}

function rowInWords(row: Row): string {
    const op = opsOf(row.fact).find(({ value }) => value === row.op)?.label ?? row.op;
    const ignored = row.ignore.map((one) => ({ case: 'capitals aside', slash: 'slash at the end aside' })[one] ?? one).join(', ');

    return `${FACT_LABELS[row.fact] ?? row.fact}${row.name && ` ${row.name}`} ${op} ${row.value}${ignored && ` (${ignored})`}`.trim();
}

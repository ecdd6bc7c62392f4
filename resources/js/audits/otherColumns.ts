/** The columns of another source's file, and which of ours they seem to be. */
export interface OtherHead {
    columns: string[];
    separator: string;
    rows: string[][];
}

export type OtherKind = 'orders' | 'days';

export const FIELDS: Record<OtherKind, { field: string; label: string; needed: boolean }[]> = {
    days: [
        { field: 'day', label: 'Day', needed: true },
        { field: 'visitors', label: 'Visitors, or hits of the goal', needed: true },
        { field: 'variant', label: 'Variant', needed: false },
    ],
    orders: [
        { field: 'order_id', label: 'Order number', needed: false },
        { field: 'time', label: 'Time', needed: false },
        { field: 'value', label: 'Value', needed: false },
        { field: 'currency', label: 'Currency', needed: false },
        { field: 'variant', label: 'Variant', needed: false },
    ],
};

/** Words that a heading of such a column has, in the languages that exports come in most; the first match wins. */
const WORDS: Record<string, RegExp> = {
    day: /^(day|date|datum|tag|jour|dia)$/i,
    visitors: /^(visitors?|users?|visits?|sessions?|hits?|count|besucher|nutzer|utilisateurs)$/i,
    variant: /^(variant|variation|group|grp|arm|variante)$/i,
    order_id: /^(order[ _-]?(id|no|number|nr)?|transaction[ _-]?id|bestell(ung|nummer|nr)|invoice)$/i,
    time: /^(time|timestamp|ts|created( at)?|ordered at|datetime|zeit|erstellt)$/i,
    value: /^(value|total|amount|revenue|sum|betrag|summe|umsatz|order total)$/i,
    currency: /^(currency|cur|währung|waehrung|devise)$/i,
};

const MOST_ROWS = 100;

/** The header row of a file, and its first rows, by its beginning. Quotation marks are those of RFC 4180. */
export function headOf(text: string): OtherHead | null {
    const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\r|\n/);
    const first = lines[0] ?? '';
    if (first.trim() === '') {
        return null;
    }
    const separator = [',', ';', '\t', '|'].sort((a, b) => first.split(b).length - first.split(a).length)[0];
    const rows = lines.slice(1, 1 + MOST_ROWS).filter((line) => line.trim() !== '');

    return { columns: cells(first, separator), separator, rows: rows.map((line) => cells(line, separator)) };
}

function cells(line: string, separator: string): string[] {
    const found: string[] = [];
    let cell = '';
    let isQuoted = false;
    for (let i = 0; i < line.length; i++) {
        if (line[i] === '"') {
            if (isQuoted && line[i + 1] === '"') {
                cell += line[++i];
            } else {
                isQuoted = !isQuoted;
            }
        } else if (line[i] === separator && !isQuoted) {
            found.push(cell.trim());
            cell = '';
        } else {
            cell += line[i];
        }
    }

    return [...found, cell.trim()];
}

/** What stands in the first rows of a column. */
export const samples = ({ columns, rows }: OtherHead, column: string | undefined): string[] =>
    column === undefined ? [] : rows.map((row) => row[columns.indexOf(column)] ?? '').filter(Boolean);

/** How days or times seem to be written, as PHP writes it; empty for what is understood by itself. */
export function formatOf(texts: string[]): string {
    const found = texts.map((text) => /^(\d{1,2})([./])(\d{1,2})\2\d{4}(?:[ T](\d{1,2}:\d{2})(:\d{2})?)?$/.exec(text));
    const first = found[0];
    if (!first || found.some((one) => one?.[2] !== first[2])) {
        return '';
    }
    // Whichever is over twelve somewhere is the day; where both may be, the day comes first, as in most countries.
    const isMonthFirst = first[2] === '/' && found.some((one) => Number(one?.[3]) > 12);
    const day = isMonthFirst ? 'm/d/Y' : `d${first[2]}m${first[2]}Y`;

    return day + (first[4] ? (first[5] ? ' H:i:s' : ' H:i') : '');
}

/** Whether a comma stands before the decimals. */
export const decimalOf = (texts: string[]): '.' | ',' =>
    texts.length > 0 && texts.some((text) => /^-?\d+,\d{1,2}$/.test(text)) ? ',' : '.';

/** Our fields → their columns, as far as their names tell. */
export function guessed(columns: string[]): Record<string, string> {
    const found: Record<string, string> = {};
    for (const [field, words] of Object.entries(WORDS)) {
        const column = columns.find((one) => one.toLowerCase() === field) ?? columns.find((one) => words.test(one.trim()));
        if (column !== undefined && !Object.values(found).includes(column)) {
            found[field] = column;
        }
    }

    return found;
}

/** A table of days has a day and a number, and tells of no single order. */
export const kindOf = (columns: string[]): OtherKind => {
    const { day, visitors, order_id } = guessed(columns);

    return day && visitors && !order_id ? 'days' : 'orders';
};

export interface Mapped {
    kind: OtherKind;
    columns: Record<string, string>;
    /** How times or days are written, as PHP writes them; empty for what is understood by itself. */
    format: string;
    decimal: '.' | ',';
    encoding: string;
    /** Their name of a variant = its key, one a line. */
    variants: string;
}

/** The mapping as the server takes it; null where the columns have our names and nothing else is to be said. */
export function mappingOf(mapped: Mapped, zone: string): object | null {
    const fields = FIELDS[mapped.kind].map(({ field }) => field);
    const columns = Object.fromEntries(Object.entries(mapped.columns).filter(([field, column]) => fields.includes(field) && column !== ''));
    const variants = Object.fromEntries(
        mapped.variants
            .split('\n')
            .map((line) => line.split('=').map((one) => one.trim()))
            .filter(([theirs, ours]) => theirs && ours),
    );
    const isOurs = Object.entries(columns).every(([field, column]) => column.toLowerCase() === field);
    if (isOurs && !mapped.format && mapped.decimal === '.' && !mapped.encoding && Object.keys(variants).length === 0) {
        return null;
    }

    return {
        pellix: 1,
        columns,
        ...(mapped.format ? { time: { format: mapped.format, zone } } : {}),
        ...(mapped.decimal === ',' ? { decimal: ',' } : {}),
        ...(mapped.encoding ? { encoding: mapped.encoding } : {}),
        ...(Object.keys(variants).length > 0 ? { variants } : {}),
    };
}

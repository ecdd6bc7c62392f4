/** A mapping of columns while it is written: every field as a text, '' where it is not there. */
export interface MappingDraft {
    columns: Record<string, string>;
    format: string;
    zone: string;
    encoding: string;
    separator: string;
    decimal: string;
    host: string;
    /** Their name of an event => ours. */
    names: Record<string, string>;
}

/** The fields of an event that can stand in a column, those that are needed first. */
export const FIELDS: { field: string; label: string; needed?: boolean }[] = [
    { field: 'visitor', label: 'Visitor', needed: true },
    { field: 'time', label: 'Time', needed: true },
    { field: 'name', label: 'Name of the event', needed: true },
    { field: 'url', label: 'Address of the page', needed: true },
    { field: 'experiment', label: 'Experiment' },
    { field: 'variant', label: 'Variant' },
    { field: 'id', label: 'Id of the event' },
    { field: 'user', label: 'User' },
    { field: 'received', label: 'Time of receipt' },
    { field: 'referrer', label: 'Referrer' },
    { field: 'agent', label: 'User agent' },
    { field: 'props.value', label: 'Value of an order' },
    { field: 'props.currency', label: 'Currency' },
    { field: 'props.order_id', label: 'Number of an order' },
    { field: 'props.device', label: 'Device' },
    { field: 'props.browser', label: 'Browser' },
    { field: 'props.source', label: 'Source' },
    { field: 'props.country', label: 'Country' },
];

/** Names of events with a meaning here. */
export const OUR_NAMES = ['page_view', 'exposure', 'order', 'click', 'form_submit', 'scroll', 'engaged', 'area_seen'];

type Json = Record<string, unknown>;

const text = (value: unknown): string => (typeof value === 'string' ? value : '');
const texts = (value: unknown): Record<string, string> =>
    typeof value === 'object' && value !== null
        ? Object.fromEntries(Object.entries(value).filter((pair): pair is [string, string] => typeof pair[1] === 'string'))
        : {};

export function draftOf(mapping: Json | null): MappingDraft {
    const time = (mapping?.time ?? {}) as Json;

    return {
        columns: texts(mapping?.columns),
        format: text(time.format) || 'rfc3339',
        zone: text(time.zone) || 'UTC',
        encoding: text(mapping?.encoding),
        separator: text(mapping?.separator),
        decimal: text(mapping?.decimal) || '.',
        host: text(mapping?.host),
        names: texts(mapping?.names),
    };
}

export function mappingOf(draft: MappingDraft): Json {
    const names = Object.fromEntries(Object.entries(draft.names).filter(([theirs, ours]) => ours !== '' && ours !== theirs));

    return {
        pellix: 1,
        columns: Object.fromEntries(Object.entries(draft.columns).filter(([, column]) => column !== '')),
        time: { format: draft.format || 'rfc3339', zone: draft.zone || 'UTC' },
        ...(draft.encoding ? { encoding: draft.encoding } : {}),
        ...(draft.separator ? { separator: draft.separator } : {}),
        ...(draft.decimal === ',' ? { decimal: ',' } : {}),
        ...(draft.host ? { host: draft.host } : {}),
        ...(Object.keys(names).length > 0 ? { names } : {}),
    };
}

/** An experiment of which only the log tells: its variants, as they were promised to split. */
export function experimentOf(key: string, variants: { key: string; weight: number }[]): Json {
    return {
        pellix: 1,
        key,
        salt: key,
        variants: variants.map((one, i) => ({ ...one, ...(i === 0 ? { control: true } : {}) })),
        // Who assigned them is not known, so it cannot be worked out again.
        audit: { assignment: 'elsewhere' },
    };
}

/** Variants as a log tells of them, the one that is surely the control first. */
export function controlFirst(keys: string[]): string[] {
    const isControl = (key: string): boolean => /^(control|original|baseline|default|a)$/i.test(key);

    return [...keys].sort((a, b) => Number(isControl(b)) - Number(isControl(a)) || a.localeCompare(b));
}

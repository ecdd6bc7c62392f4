/** What a column can be sorted by; what is not there comes last, whichever way. */
export type Sortable = string | number | null | undefined;

export interface Order {
    by: string;
    descending: boolean;
}

const WORDS = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

export function sortedRows<Row>(rows: Row[], by: (row: Row) => Sortable, descending: boolean): Row[] {
    const missing = (value: Sortable): boolean => value === null || value === undefined || value === '';

    return rows
        .map((row) => ({ row, value: by(row) }))
        .sort((a, b) => {
            if (missing(a.value) || missing(b.value)) {
                return Number(missing(a.value)) - Number(missing(b.value));
            }
            const order =
                typeof a.value === 'number' && typeof b.value === 'number'
                    ? a.value - b.value
                    : WORDS.compare(String(a.value), String(b.value));

            return descending ? -order : order;
        })
        .map(({ row }) => row);
}

/** The order after a click on a heading: its own way first (of numbers the largest), then the other way round. */
export function turned(order: Order | null, by: string, descendingFirst: boolean): Order {
    return order?.by === by ? { by, descending: !order.descending } : { by, descending: descendingFirst };
}

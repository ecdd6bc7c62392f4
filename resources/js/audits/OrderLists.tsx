import type { ReactNode } from 'react';
import { count } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Table } from '../parts/Table';

type Row = Record<string, string | number | null>;

const LISTS: { name: string; title: string; nothing: string }[] = [
    { name: 'missing', title: 'Missing here: the other source has them, Pellix has not', nothing: 'No order is missing here.' },
    { name: 'surplus', title: 'Missing there: Pellix has them, the other source has not', nothing: 'No order is missing there.' },
    { name: 'value_differs', title: 'Of another value', nothing: 'No value differs.' },
    { name: 'currency_differs', title: 'In another currency', nothing: 'No currency differs.' },
    { name: 'time_differs', title: 'At another time', nothing: '' },
    { name: 'doubled', title: 'Told more than once', nothing: '' },
];

const HEADS: Record<string, string> = {
    order_id: 'Order',
    time: 'Time',
    value: 'Value',
    currency: 'Currency',
    ours: 'Pellix',
    theirs: 'Other source',
    here: 'Times here',
    there: 'Times there',
};

/** Moments stand as the site’s clocks show them; all else as it came. */
const cellOf = (value: string | number | null): ReactNode =>
    typeof value === 'string' && /^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/.test(value) ? (
        <Moment at={value} seconds />
    ) : (
        <span className="font-mono text-sm break-all">{value ?? '–'}</span>
    );

interface Place {
    dimension: string;
    value: string;
    missing: number;
    all: number;
}

/** Orders that are not the same on both sides, kind by kind, and where the missing ones concentrate. */
export function OrderLists({ orders }: { orders: Record<string, unknown> }) {
    const counts = orders.counts as Record<string, number>;
    const { missing, surplus } = orders.concentrated as Record<string, Place[]>;

    return (
        <section aria-label="Orders" className="space-y-4">
            <p>
                {count(orders.matched as number)} orders are on both sides, {count(orders.matched_by_id as number)} of them by their number.
            </p>
            {[
                { places: missing, words: 'Missing here above all at' },
                { places: surplus, words: 'Missing there above all at' },
            ].map(
                ({ places, words }) =>
                    places.length > 0 && (
                        <div key={words}>
                            <h2 className="font-semibold">{words}</h2>
                            <ul className="list-disc pl-5">
                                {places.map((one) => (
                                    <li key={`${one.dimension} ${one.value}`}>
                                        {one.dimension} {one.value}: {count(one.missing)} of {count(one.all)}
                                    </li>
                                ))}
                            </ul>
                        </div>
                    ),
            )}
            {LISTS.map(({ name, title, nothing }) => {
                const rows = (orders[name] as Row[] | undefined) ?? [];
                if (rows.length === 0) {
                    return nothing ? (
                        <p key={name} className="text-soft">
                            {nothing}
                        </p>
                    ) : null;
                }

                return (
                    <div key={name}>
                        <h2 className="mb-1 font-semibold">
                            {title}: {count(counts[name] ?? rows.length)}
                        </h2>
                        <Table
                            label={title}
                            columns={Object.keys(rows[0]).map((key) => ({
                                key,
                                head: HEADS[key] ?? key,
                                cell: (row: Row) => cellOf(row[key]),
                                sort: (row: Row) => row[key],
                            }))}
                            rows={rows}
                            rowKey={(row) => JSON.stringify(row)}
                        />
                    </div>
                );
            })}
        </section>
    );
}

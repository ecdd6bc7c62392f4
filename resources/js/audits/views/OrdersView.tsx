import type { AuditViews } from '../../api/audits';
import { Figure } from '../../parts/charts/Figure';
import { Histogram } from '../../parts/charts/Histogram';
import { count, decimal } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import type { ViewProps } from '../AuditPage';

type Orders = AuditViews['orders'];
type Row = Orders['rows'][number];

/** Values of orders, and those that lie far from all others. */
export function OrdersView({ views }: ViewProps) {
    const { orders } = views;
    if (orders.orders === 0) {
        return <p className="border-y border-line bg-leaf p-8 text-soft">There are no orders with a value in this part.</p>;
    }
    const place = (value: number | null): number | null => {
        const i = value === null ? -1 : orders.rows.findIndex((row) => value < row.to);

        return i < 0 ? null : i + 0.5;
    };
    const lines = [
        { at: place(orders.median), words: `median ${orders.median === null ? '' : decimal(orders.median, 2)}` },
        { at: place(orders.limit), words: `far above ${orders.limit === null ? '' : decimal(orders.limit, 2)}` },
    ].filter((line): line is { at: number; words: string } => line.at !== null);

    return (
        <div className="space-y-5">
            <Figure title="Orders" summary={summary(orders)} table={<Bins orders={orders} />}>
                {(width) => (
                    <Histogram
                        label="Orders by value"
                        width={width}
                        hint="Each bar: orders of a range of values, each range as much wider as values are larger. Filled dark: far from all others."
                        lines={lines}
                        bars={orders.rows.map((row) => ({
                            label: row.to < 10 ? decimal(row.to, 1) : count(row.to),
                            number: row.orders,
                            marked: orders.limit !== null && row.from >= orders.limit,
                            words: `${decimal(row.from, 2)} to ${decimal(row.to, 2)}: ${count(row.orders)} orders`,
                        }))}
                    />
                )}
            </Figure>
            {orders.variants.some((one) => one.orders > 0) ? (
                <Largest orders={orders} />
            ) : (
                orders.variants.length > 0 && <p className="text-soft">None of them came after an exposure to this experiment.</p>
            )}
        </div>
    );
}

function summary({ orders, median, limit, variants }: Orders): string {
    const far = variants.reduce((sum, { largest }) => sum + largest.filter((one) => one.far).length, 0);

    return `${count(orders)} orders with a value, half of them under ${median === null ? '–' : decimal(median, 2)}. ${far === 0 ? 'None lies' : `${far} ${far === 1 ? 'lies' : 'lie'}`} far from all others${limit === null ? '' : ` (above ${decimal(limit, 2)})`}.`;
}

function Largest({ orders }: { orders: Orders }) {
    const rows = orders.variants.flatMap((of) => of.largest.map((one, i) => ({ ...one, variant: of.variant, key: `${of.variant} ${i}` })));
    type Order = (typeof rows)[number];
    const columns: Column<Order>[] = [
        { key: 'variant', head: 'Variant', cell: (row) => row.variant, sort: (row) => row.variant },
        { key: 'value', head: 'Value', numeric: true, cell: (row) => decimal(row.value, 2), sort: (row) => row.value },
        { key: 'far', head: '', cell: (row) => row.far && <span className="font-semibold text-doubt-ink">far from all others</span> },
        {
            key: 'id',
            head: 'Order',
            cell: (row) => <span className="font-mono text-sm">{row.order_id ?? '–'}</span>,
            sort: (row) => row.order_id,
        },
        { key: 'time', head: 'When', cell: (row) => <Moment at={row.time} />, sort: (row) => row.time },
    ];

    return (
        <section aria-label="The largest orders" className="space-y-3">
            <h2 className="font-semibold">The largest orders, and what they do to the mean</h2>
            <ul>
                {orders.variants
                    .filter((one) => one.orders > 0)
                    .map((one) => (
                        <li key={one.variant}>
                            <span className="font-mono text-sm">{one.variant}</span>: {count(one.orders)} orders, sum {decimal(one.sum, 2)};{' '}
                            {decimal(one.per_visitor, 4)} per visitor
                            {one.per_visitor_without !== one.per_visitor &&
                                `, ${decimal(one.per_visitor_without, 4)} without those that lie far from all others`}
                            .
                        </li>
                    ))}
            </ul>
            <Table label="The largest orders" columns={columns} rows={rows} rowKey={(row) => row.key} />
        </section>
    );
}

function Bins({ orders }: { orders: Orders }) {
    const columns: Column<Row>[] = [
        { key: 'from', head: 'From', numeric: true, cell: (row) => decimal(row.from, 2), sort: (row) => row.from },
        { key: 'to', head: 'to under', numeric: true, cell: (row) => decimal(row.to, 2), sort: (row) => row.to },
        { key: 'orders', head: 'Orders', numeric: true, cell: (row) => count(row.orders), sort: (row) => row.orders },
    ];

    return <Table label="Values of orders" columns={columns} rows={orders.rows} rowKey={(row) => String(row.from)} />;
}

import type { AuditViews } from '../../api/audits';
import { Figure } from '../../parts/charts/Figure';
import { Histogram } from '../../parts/charts/Histogram';
import { count, percent } from '../../parts/figures';
import { Table, type Column } from '../../parts/Table';
import type { ViewProps } from '../AuditPage';
import { NumberLink } from '../NumberLink';

type Delays = AuditViews['delays'];
type Row = Delays['rows'][number];

/** How long events took from happening to being received. */
export function DelaysView({ views }: ViewProps) {
    const { delays } = views;
    if (delays.known === 0) {
        return <p className="border-y border-line bg-leaf p-8 text-soft">No event says when it was received.</p>;
    }

    return (
        <div className="space-y-5">
            <Figure title="Delays" summary={summary(delays)} table={<Bins delays={delays} />}>
                {(width) => (
                    <Histogram
                        label="Events by how long they took"
                        width={width}
                        hint="Each bar: up to so long. Filled dark: more than ten minutes."
                        bars={delays.rows.map((row) => ({
                            label: seconds(row.within_seconds),
                            number: row.events,
                            marked: row.within_seconds > 600,
                            words: `within ${seconds(row.within_seconds)}: ${count(row.events)} events`,
                        }))}
                    />
                )}
            </Figure>
            {(delays.late > 0 || delays.clocks_off > 0) && (
                <p>
                    Who is behind it: <NumberLink behind="late">{count(delays.late)}</NumberLink> events received more than ten minutes
                    later; <NumberLink behind="clocks">{count(delays.clocks_off)}</NumberLink> visitors with a clock that is off.
                </p>
            )}
            {delays.late_by_day.length > 0 && (
                <section aria-label="Late events by day">
                    <h2 className="mb-1 font-semibold">Late events by day</h2>
                    <Table
                        label="Late events by day"
                        columns={[
                            { key: 'day', head: 'Day', cell: (row) => row.day, sort: (row) => row.day },
                            {
                                key: 'events',
                                head: 'Received more than ten minutes later',
                                numeric: true,
                                cell: (row) => count(row.events),
                                sort: (row) => row.events,
                            },
                        ]}
                        rows={delays.late_by_day}
                        rowKey={(row) => row.day}
                    />
                </section>
            )}
        </div>
    );
}

function summary({ known, late, clocks_off, clocks, seconds: at }: Delays): string {
    return `Half of ${count(known)} events were received within ${seconds(at?.['0.5'] ?? 0)}, 95 % within ${seconds(at?.['0.95'] ?? 0)}, 99 % within ${seconds(at?.['0.99'] ?? 0)}; ${count(late)} (${percent(known > 0 ? late / known : null)}) more than ten minutes after they happened. The clocks of ${count(clocks_off)} of ${count(clocks)} visitors are off.`;
}

function seconds(of: number): string {
    if (of < 1) {
        return `${Math.round(1000 * of)} ms`;
    }
    if (of < 120) {
        return `${of} s`;
    }
    if (of < 7200) {
        return `${Math.round(of / 60)} min`;
    }

    return of < 172_800 ? `${Math.round(of / 3600)} h` : `${Math.round(of / 86_400)} d`;
}

function Bins({ delays }: { delays: Delays }) {
    const columns: Column<Row>[] = [
        { key: 'within', head: 'Within', cell: (row) => seconds(row.within_seconds), sort: (row) => row.within_seconds },
        { key: 'events', head: 'Events', numeric: true, cell: (row) => count(row.events), sort: (row) => row.events },
        { key: 'part', head: 'of all', numeric: true, cell: (row) => percent(row.events / delays.known, 2) },
    ];

    return <Table label="Delays" columns={columns} rows={delays.rows} rowKey={(row) => String(row.within_seconds)} />;
}

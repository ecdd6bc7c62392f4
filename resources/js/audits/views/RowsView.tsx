import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { useAuditRows, type AuditRow, type Behind } from '../../api/audits';
import { count, plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import { Waiting } from '../../parts/Waiting';
import type { ViewProps } from '../AuditPage';
import { chosenIn } from '../part';

/** Who is behind a number of the audit: visitor by visitor, with the events that they sent around it. */
export function RowsView({ site, audit }: ViewProps) {
    const [params] = useSearchParams();
    const behind = (params.get('behind') ?? 'exposed') as Behind;
    const [variant, goal] = [params.get('variant') ?? undefined, params.get('goal') ?? undefined];
    const rows = useAuditRows(site, audit.audit, {
        behind,
        variant,
        goal,
        ...chosenIn(params),
        ...(params.has('whole') ? { whole: 1 } : {}),
    });
    const [opened, setOpened] = useState<string | null>(null);

    return (
        <Waiting query={rows}>
            {({ state, failure, words, most, found }) => {
                if (state === 'failed') {
                    return (
                        <p role="alert" className="text-broken">
                            The rows could not be found. {failure}
                        </p>
                    );
                }
                if (!found) {
                    return <p role="status">The events are read again, to find who is behind the number…</p>;
                }
                const shown = found.rows.find(({ visitor }) => visitor === opened) ?? found.rows[0];

                return (
                    <>
                        <h2 className="mb-1 font-semibold">
                            {plural(found.units, 'visitor')} {words}
                            {variant && `, variant ${variant}`}
                            {goal && `, goal ${goal}`}
                            {found.total !== found.units && `: ${count(found.total)} in all`}
                        </h2>
                        {found.units > most && (
                            <p className="mb-2 text-sm text-soft">The {most} who came first are listed. The number has all of them.</p>
                        )}
                        {found.rows.length === 0 ? (
                            <p>Nobody is behind it.</p>
                        ) : (
                            <div className="grid items-start gap-5 xl:grid-cols-[3fr_2fr]">
                                <Table
                                    label="Who is behind it"
                                    columns={columns(setOpened, found.total !== found.units)}
                                    rows={found.rows}
                                    rowKey={({ visitor }) => visitor}
                                    chosen={shown?.visitor}
                                    onOpen={({ visitor }) => setOpened(visitor)}
                                    opensOnMove
                                />
                                {shown && <Around row={shown} />}
                            </div>
                        )}
                    </>
                );
            }}
        </Waiting>
    );
}

const columns = (open: (visitor: string) => void, isCounted: boolean): Column<AuditRow>[] => [
    {
        key: 'visitor',
        head: 'Visitor',
        className: 'min-w-64 px-3 py-1 align-top',
        cell: (row) => (
            <button
                type="button"
                className="text-left font-mono text-sm wrap-anywhere text-accent underline underline-offset-4"
                onClick={() => open(row.visitor)}
            >
                {row.visitor}
            </button>
        ),
    },
    ...(isCounted
        ? [{ key: 'n', head: 'Number', numeric: true, cell: (row: AuditRow) => count(row.n), sort: (row: AuditRow) => row.n }]
        : []),
    { key: 'at', head: 'When', cell: (row) => <Moment at={row.at} seconds />, sort: (row) => row.at },
    { key: 'variant', head: 'Variant', cell: (row) => row.variant ?? '–', sort: (row) => row.variant },
    {
        key: 'context',
        head: 'With',
        cell: (row) => <span className="text-sm">{[row.device, row.browser, row.source, row.country].filter(Boolean).join(', ')}</span>,
        wide: true,
    },
    { key: 'events', head: 'Events', numeric: true, cell: (row) => count(row.events), sort: (row) => row.events },
];

function Around({ row }: { row: AuditRow }) {
    return (
        <section aria-label={`Events of ${row.visitor}`} className="border-y border-line bg-leaf px-3 py-2">
            <h3 className="font-semibold">
                <span className="font-mono text-sm break-all">{row.visitor}</span>
            </h3>
            <p className="mb-2 text-sm text-soft">
                {row.returning ? 'returning' : 'new'}
                {row.due && `; the assignment gives ${row.due}`}
                {row.page && `; at ${row.page}`}
            </p>
            <ol className="text-sm">
                {row.before > 0 && <li className="text-soft">{plural(row.before, 'event')} before</li>}
                {row.around.map((event, i) => (
                    <li key={i} className="flex flex-wrap gap-x-3 border-t border-line py-0.5">
                        <Moment at={event.at} seconds />
                        <span className="font-mono">{event.name}</span>
                        {event.variant && <strong className="font-semibold">{event.variant}</strong>}
                        <span className="min-w-0 break-all text-soft">{event.page}</span>
                        {event.delay !== null && Math.abs(event.delay) >= 60_000 && (
                            <span className="text-doubt-ink">received {count(Math.round(event.delay / 1000))} s after</span>
                        )}
                    </li>
                ))}
                {row.events > row.before + row.around.length && (
                    <li className="border-t border-line text-soft">{plural(row.events - row.before - row.around.length, 'event')} after</li>
                )}
            </ol>
        </section>
    );
}

import type { AuditRead } from '../../api/audits';
import { count } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import { LINK_LABELS } from '../../parts/vocabulary';
import type { ViewProps } from '../AuditPage';
import { flat, Grade } from '../grades';

type Check = AuditRead['report']['checks'][number];

/** What was looked at, what was not and why, and the smallest fault that would have shown. */
export function ChecksView({ read, audit }: ViewProps) {
    const { checks, skipped, counts } = read.report;
    const found = flat(read.report.findings).map(({ finding }) => finding);
    const columns: Column<Check>[] = [
        {
            key: 'result',
            head: '',
            className: 'py-1.5 pl-3 align-top',
            cell: ({ code }) => {
                const own = found.find((one) => one.code === code);

                return own && <Grade severity={own.severity} />;
            },
        },
        {
            key: 'check',
            head: 'Check',
            sort: ({ code }) => code,
            className: 'min-w-56 px-3 py-1.5 align-top',
            cell: ({ code }) => (
                <>
                    {read.codes[code]?.label} <span className="block font-mono text-xs text-soft">{code}</span>
                </>
            ),
        },
        {
            key: 'link',
            head: 'Link',
            className: 'px-3 py-1.5 align-top',
            sort: ({ code }) => read.codes[code]?.link,
            cell: ({ code }) => LINK_LABELS[read.codes[code]?.link],
        },
        {
            key: 'ran',
            head: 'Result',
            className: 'min-w-40 px-3 py-1.5 align-top text-sm',
            sort: ({ ran }) => (ran ? 1 : 0),
            cell: ({ code, ran, why }) => {
                const number = found.filter((one) => one.code === code).length;

                return ran ? (
                    number > 0 ? (
                        <strong className="font-semibold">{number} found</strong>
                    ) : (
                        'nothing found'
                    )
                ) : (
                    <span className="text-soft">Not looked at: {why}</span>
                );
            },
        },
        {
            key: 'what',
            head: 'What it looks for',
            wide: true,
            className: 'min-w-64 px-3 py-1.5 align-top text-sm',
            cell: ({ code }) => read.codes[code]?.what,
        },
        {
            key: 'smallest',
            head: 'Smallest fault seen',
            className: 'px-3 py-1.5 align-top font-mono text-xs',
            cell: ({ code }) => read.codes[code]?.smallest || <span className="font-sans text-soft">not measured</span>,
        },
    ];

    return (
        <div className="space-y-4">
            <div className="space-y-1">
                <h2 className="text-lg font-semibold">What was checked</h2>
                <p>
                    {checks.filter(({ ran }) => ran).length} of {checks.length} checks were made on {count(counts.events)} events.{' '}
                    {audit.verdict === 'fit' && audit.sentence} The smallest fault of a check is the one that nine of ten made-up logs of 10
                    000 visitors showed; of more visitors smaller ones show.
                </p>
                {audit.read_events !== null && (
                    <p>
                        {audit.went_on_from === null ? (
                            <>All {count(audit.read_events)} events were read; the watch goes on from here.</>
                        ) : (
                            <>
                                The watch goes on from what it had counted by <Moment at={audit.went_on_from} />: it read the{' '}
                                {count(audit.read_events)} events of visitors of whom something has arrived since, and nobody else’s. Once a
                                week, and whenever what it goes by has changed, it reads everything; so does an audit that somebody asks
                                for.
                            </>
                        )}
                    </p>
                )}
                <p className="text-sm text-soft">
                    Engine {audit.engine} · fingerprint of what was read <span className="font-mono">{audit.fingerprint || 'none'}</span>:
                    the same events, in whatever order, have the same, and the same engine says the same of them.
                </p>
            </div>
            <Table label="Checks" columns={columns} rows={checks} rowKey={({ code }) => code} />
            {skipped.length > 0 && (
                <section aria-label="Lines that were left out">
                    <h2 className="mb-1 font-semibold">Lines that were left out, {count(counts.skipped)} in all</h2>
                    <Table
                        label="Lines that were left out"
                        columns={[
                            { key: 'line', head: 'Line', numeric: true, cell: ({ line }) => line, sort: ({ line }) => line },
                            { key: 'reason', head: 'Why', wide: true, cell: ({ reason }) => reason, sort: ({ reason }) => reason },
                        ]}
                        rows={skipped}
                        rowKey={({ line, reason }) => `${line} ${reason}`}
                    />
                </section>
            )}
        </div>
    );
}

import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useRight } from '../api/queries';
import {
    useForgetReconciliation,
    useReconciliation,
    type ReadReconciliation,
    type ReconciliationResult,
    type ReconciliationRow,
} from '../api/reconciliations';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { count, percent, signedPercent } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { AGREEMENT, said } from './Reconcile';
import { OrderLists } from './OrderLists';

/** How one file of another source agrees with what Pellix has. */
export function ReconciliationPage() {
    const site = useSiteKey();
    const one = useReconciliation(site, Number(useParams().reconciliation) || 0);

    return <Waiting query={one}>{(known) => <Known site={site} one={known} />}</Waiting>;
}

function Known({ site, one }: { site: string; one: ReadReconciliation }) {
    useTitle(`${one.verdict ? AGREEMENT[one.verdict].words : one.state} · ${one.name} · Reconcile`);
    const mayWork = useRight(site) !== 'look';

    return (
        <div className="mx-auto max-w-7xl space-y-5 px-5 py-4">
            <header className="flex flex-wrap items-start gap-x-6 gap-y-2">
                <div className="min-w-64 flex-1">
                    <p className="text-sm text-soft">
                        <Link to={address.reconcile(site)} className="text-accent underline underline-offset-4">
                            Reconcile
                        </Link>{' '}
                        · {one.name} against{' '}
                        {one.experiment ? (
                            <Link to={address.experiment(site, one.experiment)} className="text-accent underline underline-offset-4">
                                {one.subject}
                            </Link>
                        ) : (
                            one.subject
                        )}
                    </p>
                    <h1 className="flex items-start gap-2.5 text-xl font-semibold">
                        {one.verdict && (
                            <span className="mt-1">
                                <StateMark state={AGREEMENT[one.verdict].state} size={20} />
                            </span>
                        )}
                        <span role="status">{said(one)}</span>
                    </h1>
                    <p className="mt-1 text-sm text-soft">
                        {one.result?.counted && `Counted here: ${one.result.counted}. `}
                        They may differ by {percent(one.tolerance)} (common practice, no source)
                        {one.result?.kind === 'orders' && `, times by ${count(one.window)} s`}. Asked by {one.by}, <Moment at={one.asked} />
                    </p>
                </div>
                {mayWork && <Forget site={site} one={one} />}
            </header>
            {one.result && <Result result={one.result} />}
        </div>
    );
}

function Forget({ site, one }: { site: string; one: ReadReconciliation }) {
    const [asks, setAsks] = useState(false);
    const forget = useForgetReconciliation(site);
    const navigate = useNavigate();

    return (
        <>
            <Button look="danger" onClick={() => setAsks(true)}>
                Delete
            </Button>
            <Question
                open={asks}
                title={`Delete what was found of “${one.name}”?`}
                yes="Delete it"
                danger
                busy={forget.isPending}
                error={forget.error?.message}
                onYes={() => forget.mutate(one.reconciliation, { onSuccess: () => navigate(address.reconcile(site)) })}
                onNo={() => setAsks(false)}
            >
                <p>The file and the result are forgotten. To see them again the file has to be brought again.</p>
            </Question>
        </>
    );
}

function Result({ result }: { result: ReconciliationResult }) {
    const unit = result.kind === 'orders' ? 'orders' : result.goal ? 'hits' : 'visitors';
    const even = result.even as { test: string | null; p: number | null; variant: string | null; why: string | null };

    return (
        <>
            <section aria-label="Is it even">
                <h2 className="mb-1 font-semibold">Do all variants differ alike?</h2>
                <p className="max-w-3xl">
                    {even.p === null
                        ? (even.why ?? 'It cannot be told.')
                        : `${even.test ?? ''}: p = ${even.p < 0.0001 ? 'under 0.0001' : even.p.toFixed(4)}${even.variant ? `; variant ${even.variant} stands out` : ''}.`}
                </p>
            </section>
            <section aria-label="In all">
                <h2 className="mb-1 font-semibold">In all, on days that both cover</h2>
                <Table label="In all" columns={rowColumns(unit, false)} rows={result.totals} rowKey={(row) => row.variant ?? ''} />
            </section>
            {result.orders && <OrderLists orders={result.orders} />}
            <section aria-label="Day by day">
                <h2 className="mb-1 font-semibold">Day by day</h2>
                {result.days.length === 0 ? (
                    <p className="text-soft">There is no day that both cover.</p>
                ) : (
                    <Table
                        label="Day by day"
                        columns={rowColumns(unit, true)}
                        rows={result.days}
                        rowKey={(row) => `${row.day} ${row.variant ?? ''}`}
                    />
                )}
            </section>
            {result.skipped.lines > 0 && (
                <section aria-label="Lines that were left out">
                    <h2 className="mb-1 font-semibold">Lines of their file that were left out: {count(result.skipped.lines)}</h2>
                    <ul className="list-disc pl-5">
                        {result.skipped.first.map(({ line, reason }) => (
                            <li key={line}>
                                Line {line}: {reason}
                            </li>
                        ))}
                    </ul>
                </section>
            )}
        </>
    );
}

function rowColumns(unit: string, isDaily: boolean): Column<ReconciliationRow>[] {
    const part = (value: number | null): string => (value === null ? '–' : signedPercent(value));

    return [
        ...(isDaily
            ? [
                  {
                      key: 'day',
                      head: 'Day',
                      cell: (row: ReconciliationRow) => <span className="whitespace-nowrap">{row.day}</span>,
                      sort: (row: ReconciliationRow) => row.day,
                  },
              ]
            : []),
        { key: 'variant', head: 'Variant', cell: (row) => row.variant ?? 'all', sort: (row) => row.variant },
        { key: 'ours', head: `Pellix, ${unit}`, numeric: true, cell: (row) => count(row.ours), sort: (row) => row.ours },
        { key: 'theirs', head: `Other source, ${unit}`, numeric: true, cell: (row) => count(row.theirs), sort: (row) => row.theirs },
        { key: 'difference', head: 'Difference', numeric: true, cell: (row) => part(row.difference), sort: (row) => row.difference },
        {
            key: 'bounds',
            head: '95 % interval',
            numeric: true,
            cell: (row) => (
                <span className="whitespace-nowrap">
                    {row.low === null && row.high === null ? '–' : `${part(row.low)} to ${part(row.high)}`}
                </span>
            ),
        },
        ...(isDaily
            ? [
                  {
                      key: 'within',
                      head: '',
                      wide: true,
                      cell: (row: ReconciliationRow) =>
                          row.partial ? (
                              <span className="text-soft">covered in part: it counts for nothing</span>
                          ) : row.within ? (
                              <span className="text-holds">within the tolerance</span>
                          ) : (
                              <span className="text-broken">out of the tolerance</span>
                          ),
                      sort: (row: ReconciliationRow) => (row.partial ? 2 : row.within ? 1 : 0),
                  },
              ]
            : []),
    ];
}

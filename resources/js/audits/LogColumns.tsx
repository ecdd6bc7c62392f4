import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useAskAudit, useAuditLog, useAudits, useKeepAuditLog, type ReadAuditLog } from '../api/audits';
import { Problem } from '../api/client';
import { useRight } from '../api/queries';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { count } from '../parts/figures';
import { Waiting } from '../parts/Waiting';
import { bytes } from './bytes';
import { ColumnFields } from './ColumnFields';
import { ExperimentField } from './ExperimentField';
import { draftOf, mappingOf } from './mapping';

/** What the columns of a log mean, and for which experiment it is audited; its first lines, and what is read of them, beside. */
export function LogColumns({ site, log }: { site: string; log: number }) {
    const known = useAuditLog(site, log);

    return <Waiting query={known}>{(read) => <Known site={site} read={read} />}</Waiting>;
}

function Known({ site, read }: { site: string; read: ReadAuditLog }) {
    const navigate = useNavigate();
    const mayWork = useRight(site) !== 'look';
    const keep = useKeepAuditLog(site, read.log);
    const ask = useAskAudit(site);
    const audits = useAudits(site).data?.filter((one) => one.log === read.log) ?? [];
    const tried = read.head.tried;
    // Where the columns are ours there is nothing to map.
    const fitsAsIs = read.mapping === null && tried?.with === 'none' && tried.events > 0.8 * tried.lines;
    const [mapped, setMapped] = useState(!fitsAsIs);
    const [draft, setDraft] = useState(() => draftOf(read.mapping ?? read.head.proposal));
    const [experiment, setExperiment] = useState<Record<string, unknown> | null>(read.experiment);
    const errors = keep.error instanceof Problem ? keep.error.errors : {};
    const mapping = mapped ? mappingOf(draft) : null;
    const isKept = JSON.stringify([mapping, experiment]) === JSON.stringify([read.mapping, read.experiment]);
    const tryIt = (then?: () => void): void => keep.mutate({ experiment, mapping }, { onSuccess: () => then?.() });
    const audit = (): void =>
        tryIt(() => ask.mutate({ log: read.log }, { onSuccess: (next) => navigate(address.audit(site, next.audit)) }));

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <p className="text-sm text-soft">
                <Link to={address.auditLogs(site)} className="text-accent underline underline-offset-4">
                    Logs
                </Link>
            </p>
            <h1 className="text-xl font-semibold break-all">{read.name}</h1>
            <p className="mb-3 text-sm text-soft">
                {bytes(read.size)}
                {read.state === 'arriving' && `, ${bytes(read.received)} have arrived`} · brought by {read.by}
                {audits.map((one) => (
                    <span key={one.audit}>
                        {' '}
                        ·{' '}
                        <Link to={address.audit(site, one.audit)} className="text-accent underline underline-offset-4">
                            audit {one.audit}
                            {one.verdict && `: ${one.verdict}`}
                        </Link>
                    </span>
                ))}
            </p>
            {read.head.trouble && (
                <p role="alert" className="mb-3 text-broken">
                    {read.head.trouble}
                </p>
            )}
            <div className="grid gap-x-6 gap-y-5 lg:grid-cols-[minmax(0,5fr)_minmax(0,7fr)]">
                <section aria-label="Declared" className="min-w-0 space-y-5">
                    <ExperimentField site={site} read={read} value={experiment} error={errors.experiment?.[0]} onChange={setExperiment} />
                    <ColumnFields
                        read={read}
                        mapped={mapped}
                        draft={draft}
                        error={errors.mapping?.[0]}
                        onMapped={setMapped}
                        onChange={setDraft}
                    />
                    {mayWork && (
                        <div className="sticky bottom-0 flex flex-wrap items-center gap-3 border-t border-line bg-ground py-3">
                            <Button disabled={keep.isPending} onClick={() => tryIt()}>
                                Try the first lines
                            </Button>
                            <Button
                                look="main"
                                disabled={keep.isPending || ask.isPending || experiment === null || read.state !== 'whole'}
                                onClick={audit}
                            >
                                Audit it
                            </Button>
                            {experiment === null && <span className="text-sm text-soft">Say first which experiment it is about.</span>}
                            {(keep.error || ask.error) && (
                                <p role="alert" className="basis-full text-broken">
                                    {(keep.error ?? ask.error)?.message}
                                </p>
                            )}
                        </div>
                    )}
                </section>
                <section aria-label="Observed" className="min-w-0 space-y-4">
                    <Tried read={read} stale={!isKept && tried?.with !== 'guess'} />
                    <FirstRows read={read} />
                </section>
            </div>
        </div>
    );
}

function Tried({ read, stale }: { read: ReadAuditLog; stale: boolean }) {
    const { tried } = read.head;
    if (tried === null) {
        return null;
    }
    const few = tried.lines === 0 || tried.events < 0.8 * tried.lines;

    return (
        <div className={`border-l-3 bg-leaf px-4 py-3 ${few ? 'border-broken' : 'border-holds'}`}>
            <p className="font-semibold">
                {count(tried.events)} of the first {count(tried.lines)} lines are read as events
                {{ none: ' without a mapping', guess: ' with the mapping that was guessed', mapping: ' with this mapping' }[tried.with]}.
            </p>
            {stale && <p className="text-sm text-doubt-ink">What you have changed since has not been tried yet.</p>}
            {Object.keys(tried.names).length > 0 && (
                <p className="text-sm">
                    Events:{' '}
                    {Object.entries(tried.names)
                        .map(([name, n]) => `${name} ${count(n)}`)
                        .join(', ')}
                </p>
            )}
            {Object.entries(tried.experiments).map(([key, variants]) => (
                <p key={key} className="text-sm">
                    Exposures of <span className="font-mono">{key}</span>:{' '}
                    {Object.entries(variants)
                        .map(([variant, n]) => `${variant} ${count(n)}`)
                        .join(', ')}
                </p>
            ))}
            {tried.left_out.length > 0 && (
                <ul className="mt-1 text-sm text-broken">
                    {tried.left_out.map(({ line, reason }) => (
                        <li key={line}>
                            Line {line}: {reason}
                        </li>
                    ))}
                </ul>
            )}
        </div>
    );
}

function FirstRows({ read }: { read: ReadAuditLog }) {
    const { columns, rows } = read.head;
    if (rows.length === 0) {
        return null;
    }

    return (
        <div>
            <h2 className="mb-1 font-semibold">Its first lines, column by column</h2>
            <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="First lines">
                <table className="w-full text-sm">
                    <thead className="text-left text-soft">
                        <tr>
                            <th scope="col" className="border-b border-line px-3 py-1 font-normal">
                                Column
                            </th>
                            {rows.slice(0, 3).map((_, i) => (
                                <th key={i} scope="col" className="border-b border-line px-3 py-1 font-normal">
                                    line {i + 1}
                                </th>
                            ))}
                        </tr>
                    </thead>
                    <tbody>
                        {columns.map((column, c) => (
                            <tr key={column}>
                                <th scope="row" className="border-b border-line px-3 py-1 text-left font-mono text-xs font-semibold">
                                    {column}
                                </th>
                                {rows.slice(0, 3).map((row, i) => (
                                    <td
                                        key={i}
                                        className="max-w-52 truncate border-b border-line px-3 py-1 font-mono text-xs"
                                        title={row[c]}
                                    >
                                        {row[c]}
                                    </td>
                                ))}
                            </tr>
                        ))}
                    </tbody>
                </table>
            </div>
        </div>
    );
}

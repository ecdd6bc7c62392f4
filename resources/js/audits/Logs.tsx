import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { useAuditLogs, useDeleteAuditLog, type AuditLog } from '../api/audits';
import { useRight } from '../api/queries';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { percent } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { bytes } from './bytes';
import { upload } from './upload';

/** Every log of the site that was brought, and the way to bring one. */
export function Logs({ site }: { site: string }) {
    const logs = useAuditLogs(site);
    const mayWork = useRight(site) !== 'look';

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <p className="text-sm text-soft">
                <Link to={address.audits(site)} className="text-accent underline underline-offset-4">
                    Audits
                </Link>
            </p>
            <h1 className="mb-3 text-xl font-semibold">Audit a log</h1>
            <Waiting query={logs}>
                {(known) => (
                    <div className="space-y-6">
                        {mayWork && <Bring site={site} known={known} />}
                        {known.length > 0 && <Known site={site} logs={known} mayWork={mayWork} />}
                    </div>
                )}
            </Waiting>
        </div>
    );
}

function Bring({ site, known }: { site: string; known: AuditLog[] }) {
    const navigate = useNavigate();
    const client = useQueryClient();
    const input = useRef<HTMLInputElement>(null);
    const stop = useRef<AbortController | null>(null);
    const [file, setFile] = useState<File | null>(null);
    const [log, setLog] = useState<AuditLog | null>(null);
    const [waiting, setWaiting] = useState(false);
    const [error, setError] = useState<string | null>(null);
    const [over, setOver] = useState(false);
    const [busy, setBusy] = useState(false);
    useEffect(() => () => stop.current?.abort(), []);

    const send = (chosen: File): void => {
        const control = new AbortController();
        stop.current = control;
        setFile(chosen);
        setError(null);
        setBusy(true);
        upload(
            site,
            chosen,
            known,
            (now, isWaiting) => {
                setLog(now);
                setWaiting(isWaiting);
            },
            control.signal,
        )
            .then((done) => {
                void client.invalidateQueries({ queryKey: ['audit-logs', site] });
                if (done.state === 'whole') {
                    void navigate(address.auditLogs(site, done.log));
                }
            })
            .catch((problem: Error) => setError(problem.message))
            .finally(() => setBusy(false));
    };
    const drop = (event: DragEvent): void => {
        event.preventDefault();
        setOver(false);
        const dropped = event.dataTransfer.files[0];
        if (dropped && !busy) {
            send(dropped);
        }
    };

    return (
        <section
            aria-label="Bring a log"
            onDragOver={(event) => {
                event.preventDefault();
                setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={drop}
            className={`border border-dashed bg-leaf p-5 ${over ? 'border-accent' : 'border-[#8b8f96]'}`}
        >
            <p className="max-w-3xl">
                An event log of up to 2 GB: NDJSON or CSV, perhaps packed by gzip, with columns of any name. It stays on this copy and is
                read by nobody else. If the line breaks, choose the same file again: it goes on where it was.
            </p>
            <div className="mt-3 flex flex-wrap items-center gap-4">
                <input
                    ref={input}
                    type="file"
                    aria-label="Event log"
                    accept=".ndjson,.jsonl,.json,.csv,.tsv,.txt,.gz"
                    className="sr-only"
                    tabIndex={-1}
                    onChange={(event) => {
                        const chosen = event.target.files?.[0];
                        event.target.value = '';
                        if (chosen) {
                            send(chosen);
                        }
                    }}
                />
                <Button look="main" disabled={busy} onClick={() => input.current?.click()}>
                    Choose a file…
                </Button>
                <span className="text-sm text-soft">or drop it here</span>
            </div>
            {file && log && (
                <div className="mt-4 flex flex-wrap items-center gap-4">
                    <progress className="w-72" max={log.size} value={log.received} aria-label="Bytes that have arrived" />
                    <span aria-live="polite">
                        {file.name}: {bytes(log.received)} of {bytes(log.size)} ({percent(log.received / log.size, 0)})
                        {waiting && ', the line is broken: trying again'}
                    </span>
                    {busy ? (
                        <Button onClick={() => stop.current?.abort()}>Stop</Button>
                    ) : (
                        log.state === 'arriving' && <Button onClick={() => send(file)}>Go on</Button>
                    )}
                </div>
            )}
            {error && (
                <p role="alert" className="mt-3 text-broken">
                    {error}
                </p>
            )}
        </section>
    );
}

function Known({ site, logs, mayWork }: { site: string; logs: AuditLog[]; mayWork: boolean }) {
    const navigate = useNavigate();
    const remove = useDeleteAuditLog(site);
    const [asked, setAsked] = useState<AuditLog | null>(null);
    const columns: Column<AuditLog>[] = [
        {
            key: 'name',
            head: 'Log',
            wide: true,
            sort: ({ name }) => name,
            cell: ({ log, name, state, received, size }) => (
                <>
                    <Link to={address.auditLogs(site, log)} className="font-semibold text-accent underline-offset-4 hover:underline">
                        {name}
                    </Link>
                    {state === 'arriving' && (
                        <span className="ml-2 text-sm text-doubt-ink">
                            {percent(received / size, 0)} has arrived; choose the same file above to go on
                        </span>
                    )}
                </>
            ),
        },
        { key: 'size', head: 'Size', numeric: true, sort: ({ size }) => size, cell: ({ size }) => bytes(size) },
        { key: 'by', head: 'Brought by', cell: ({ by }) => by },
        { key: 'created', head: 'When', sort: ({ created }) => created, cell: ({ created }) => <Moment at={created} /> },
        {
            key: 'delete',
            head: '',
            cell: (log) =>
                mayWork && (
                    <button type="button" className="text-broken underline underline-offset-4" onClick={() => setAsked(log)}>
                        Delete…
                    </button>
                ),
        },
    ];

    return (
        <>
            <Table
                label="Logs"
                columns={columns}
                rows={logs}
                rowKey={({ log }) => String(log)}
                onOpen={({ log }) => navigate(address.auditLogs(site, log))}
            />
            <Question
                open={asked !== null}
                title={`Delete ${asked?.name ?? ''}?`}
                yes="Delete it"
                danger
                busy={remove.isPending}
                error={remove.error?.message}
                onYes={() => asked && remove.mutate(asked.log, { onSuccess: () => setAsked(null) })}
                onNo={() => setAsked(null)}
            >
                <p>The log and its audits are gone for good. To audit it again it has to be brought again.</p>
            </Question>
        </>
    );
}

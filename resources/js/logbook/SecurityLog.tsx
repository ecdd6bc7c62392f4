import { useSearchParams } from 'react-router';
import { useSecurityLog, type SecurityEntry } from '../api/account';
import { useRight } from '../api/queries';
import { clientName } from '../account/clientName';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Tick } from '../parts/RuleBuilder';
import { Table, type Column } from '../parts/Table';
import { useTitle } from '../parts/useTitle';
import { SECURITY_MATTERS } from '../parts/vocabulary';
import { LogbookTabs } from './LogbookTabs';

const COLUMNS: Column<SecurityEntry>[] = [
    { key: 'at', head: 'When', cell: (one) => <Moment at={one.at} seconds /> },
    {
        key: 'matter',
        head: 'What',
        cell: (one) => (
            <span className={`font-semibold whitespace-nowrap ${one.refusal ? 'text-broken' : ''}`}>{SECURITY_MATTERS[one.matter]}</span>
        ),
    },
    {
        key: 'person',
        head: 'Person',
        cell: (one) => <span className="whitespace-nowrap">{one.person || <span className="text-soft">nobody known</span>}</span>,
    },
    { key: 'address', head: 'From', cell: (one) => <span className="font-mono text-sm">{one.address}</span> },
    {
        key: 'agent',
        head: 'With',
        cell: (one) => (
            <span title={one.agent} className="whitespace-nowrap">
                {clientName(one.agent)}
            </span>
        ),
    },
    { key: 'note', head: 'Note', cell: (one) => <span className="break-words">{one.note}</span>, wide: true },
];

/** Who got in, who was refused, and what became of rights, keys and tokens. */
export function SecurityLog() {
    const site = useSiteKey();
    const isOwner = useRight(site) === 'own';
    const [params, setParams] = useSearchParams();
    const refusals = params.get('refusals') === '1';
    const log = useSecurityLog(site, refusals, isOwner);
    useTitle('Who got in, Logbook');

    if (!isOwner) {
        return <p className="p-6">Who got in and who was refused is shown to the owners of this site.</p>;
    }
    const entries = log.data?.pages.flatMap((page) => page.entries) ?? [];

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">Logbook</h1>
            <LogbookTabs />
            <div className="mb-3 flex flex-wrap items-start gap-4">
                <p className="max-w-3xl flex-1 basis-80 text-soft">
                    On this site, and by its people at the door of this copy of Pellix. Tries without a known account are shown to every
                    owner. Nothing that was typed as a secret is written down.
                </p>
                <Tick
                    label="Refusals only"
                    on={refusals}
                    onChange={() => setParams(refusals ? {} : { refusals: '1' }, { replace: true })}
                />
            </div>
            {log.error && (
                <p role="alert" className="mb-3 text-broken">
                    {log.error.message}
                </p>
            )}
            {log.isPending ? (
                <p className="text-soft">Reading…</p>
            ) : entries.length === 0 ? (
                <p>{refusals ? 'Nobody was refused anything.' : 'Nothing has happened yet.'}</p>
            ) : (
                <Table label="Security log" columns={COLUMNS} rows={entries} rowKey={(one) => `${one.id}`} />
            )}
            {log.hasNextPage && (
                <Button className="mt-3" disabled={log.isFetchingNextPage} onClick={() => log.fetchNextPage()}>
                    Earlier ones
                </Button>
            )}
        </div>
    );
}

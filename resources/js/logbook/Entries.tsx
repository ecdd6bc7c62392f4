import { Link } from 'react-router';
import { useLogbook, type LogbookEntry, type LogbookFilters } from '../api/life';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';

const ORIGINS: Record<string, string> = { interface: 'interface', api: 'API', command: 'command', pellix: 'by itself' };

/** Entries of the Logbook, the newest first, with what was before and after. */
export function Entries({ filters, alone = false }: { filters: LogbookFilters; alone?: boolean }) {
    const site = useSiteKey();
    const log = useLogbook(site, filters);
    const entries = log.data?.pages.flatMap((page) => page.entries) ?? [];

    return (
        <Waiting query={log as never}>
            {() =>
                entries.length === 0 ? (
                    <p className="border-y border-line bg-leaf p-6">Nothing was changed that fits this.</p>
                ) : (
                    <>
                        <ol className="border border-line bg-leaf">
                            {entries.map((entry) => (
                                <Entry key={entry.id} entry={entry} alone={alone} />
                            ))}
                        </ol>
                        {log.hasNextPage && (
                            <Button className="mt-3" onClick={() => void log.fetchNextPage()} disabled={log.isFetchingNextPage}>
                                Earlier entries
                            </Button>
                        )}
                    </>
                )
            }
        </Waiting>
    );
}

function Entry({ entry, alone }: { entry: LogbookEntry; alone: boolean }) {
    const site = useSiteKey();
    const to = placeOf(site, entry);

    return (
        <li
            data-entry={`${entry.thing} ${entry.what}`}
            className="grid grid-cols-[8.5rem_9rem_1fr] gap-x-4 border-b border-line px-4 py-1.5 last:border-0 max-md:grid-cols-1"
        >
            <span className="text-sm text-soft">
                <Moment at={entry.at} />
            </span>
            <span className="text-sm">
                {entry.person} <span className="text-soft">{ORIGINS[entry.from] ?? entry.from}</span>
            </span>
            <div className="min-w-0">
                <p>
                    {!alone && (
                        <>
                            <span className="text-soft">{entry.thing}</span>{' '}
                            {to ? (
                                <Link to={to} className="text-accent underline underline-offset-4">
                                    {entry.name}
                                </Link>
                            ) : (
                                entry.name
                            )}{' '}
                        </>
                    )}
                    <strong>{entry.what}</strong> {entry.note && <span className="text-soft">{entry.note}</span>}
                </p>
                {entry.changes.length > 0 && (
                    <details open={entry.what === 'changed' && entry.changes.length <= 3}>
                        <summary className="text-sm text-soft">
                            {entry.changes
                                .map(({ field }) => field)
                                .slice(0, 4)
                                .join(', ')}
                            {entry.changes.length > 4 && ' …'}
                        </summary>
                        <table className="mt-1 mb-1 w-full table-fixed text-sm">
                            <thead className="sr-only">
                                <tr>
                                    <th>Field</th>
                                    <th>Before</th>
                                    <th>After</th>
                                </tr>
                            </thead>
                            <tbody>
                                {entry.changes.map((change) => (
                                    <tr key={change.field} className="align-top">
                                        <td className="w-1/4 pr-3 font-mono text-xs break-words text-soft">{change.field}</td>
                                        <td className="pr-3 break-words line-through decoration-line">{shown(change.before)}</td>
                                        <td className="break-words">{shown(change.after)}</td>
                                    </tr>
                                ))}
                            </tbody>
                        </table>
                    </details>
                )}
            </div>
        </li>
    );
}

function shown(value: unknown): string {
    return value === null || value === undefined ? '–' : typeof value === 'string' ? value : JSON.stringify(value);
}

function placeOf(site: string, { thing, key, what }: LogbookEntry): string | null {
    if (what === 'deleted') {
        return null;
    }
    switch (thing) {
        case 'experiment':
            return address.experiment(site, key);
        case 'goal':
            return address.goals(site, key);
        case 'event':
            return address.events(site, key);
        case 'tags':
            return address.tags(site);
        case 'published':
            return address.published(site);
        case 'page':
            return address.coverage(site);
        case 'brief':
            return address.briefs(site);
        case 'person':
            return address.people(site);
        case 'webhook':
            return address.notices(site, 'webhooks');
        case 'audit':
            return address.audit(site, Number(key));
        default:
            return null;
    }
}

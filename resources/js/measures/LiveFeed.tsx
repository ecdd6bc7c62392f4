import { memo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import type { FeedFilters } from '../api/measures';
import { useExperiments, useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { useKeys } from '../app/keys';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Tick } from '../parts/RuleBuilder';
import { MeasuresTabs } from './MeasuresTabs';
import { StoryPanel } from './Story';
import { useFeed, type FeedRow } from './useFeed';

const VERDICTS: Record<Schemas['Conformance'], { mark: string; label: string; tone: string }> = {
    conforms: { mark: '✓', label: 'as planned', tone: 'text-holds' },
    lacks: { mark: '✕', label: 'lacks a property', tone: 'text-broken font-semibold' },
    'wrong-type': { mark: '✕', label: 'wrong type', tone: 'text-broken font-semibold' },
    unplanned: { mark: '?', label: 'not planned', tone: 'text-doubt-ink' },
};

/** Events as they arrive, the newest first; one opens to everything that can be told of it. */
export function LiveFeed() {
    const site = useSiteKey();
    const { event } = useParams();
    const [params] = useSearchParams();
    /** How many events had come when the feed was paused; null while it runs. */
    const [pausedAt, setPausedAt] = useState<number | null>(null);
    const filters = Object.fromEntries([...params].filter(([, value]) => value !== '')) as FeedFilters;
    const feed = useFeed(site, filters);
    const waiting = pausedAt === null ? 0 : Math.max(0, feed.total - pausedAt);
    const toggle = (): void => setPausedAt(pausedAt === null ? feed.total : null);
    const query = params.size > 0 ? `?${params}` : '';
    useKeys({ p: toggle });

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <div className="mb-3 flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">Live feed</h1>
                <Button onClick={toggle} aria-pressed={pausedAt !== null}>
                    {pausedAt === null ? 'Pause' : `Go on${waiting > 0 ? `, ${waiting} wait` : ''}`}
                </Button>
                <Own />
                {feed.error && (
                    <span role="alert" className="text-broken">
                        {feed.error}
                    </span>
                )}
            </div>
            <Filters />
            <div className={`grid gap-6 ${event ? 'lg:grid-cols-2' : ''}`}>
                <div className="min-w-0">
                    {feed.rows.length === 0 ? (
                        <p className="border-y border-line bg-leaf p-8 text-center">
                            {feed.reading
                                ? 'Reading…'
                                : 'Nothing has arrived that matches. Open a page of the site; its events show here within two seconds.'}
                        </p>
                    ) : (
                        <Rows rows={feed.rows.slice(waiting)} chosen={event} query={query} narrow={event !== undefined} />
                    )}
                </div>
                {event && <StoryPanel key={event} event={event} query={query} />}
            </div>
        </div>
    );
}

/** Whoever opens a page of the site by this link finds their own visits by it. */
function Own() {
    const site = useSite(useSiteKey());
    const [params, setParams] = useSearchParams();
    const mark = site.data?.mark;
    if (!site.data || !mark) {
        return null;
    }
    const home = site.data.demo_origin ?? `https://${site.data.hosts[0]}`;

    return (
        <span className="flex flex-wrap items-center gap-3">
            <Tick
                label="only my own visits"
                on={params.get('mine') === mark}
                onChange={() => {
                    const next = new URLSearchParams(params);
                    if (next.get('mine') === mark) {
                        next.delete('mine');
                    } else {
                        next.set('mine', mark);
                    }
                    setParams(next, { replace: true });
                }}
            />
            <a href={`${home}/?plx_me=${mark}`} target="_blank" rel="noreferrer" className="text-accent underline underline-offset-4">
                Open the site with my mark
            </a>
        </span>
    );
}

function Filters() {
    const site = useSiteKey();
    const experiments = useExperiments(site).data ?? [];
    const [params, setParams] = useSearchParams();
    const set = (name: string, value: string): void => {
        const next = new URLSearchParams(params);
        if (value) {
            next.set(name, value);
        } else {
            next.delete(name);
        }
        if (name === 'experiment') {
            next.delete('variant');
        }
        setParams(next, { replace: true });
    };
    const chosen = experiments.find((one) => one.key === params.get('experiment'));
    const text = (name: string, label: string) => (
        <div className="w-44">
            <TextField
                label={label}
                className="font-mono text-sm"
                value={params.get(name) ?? ''}
                onChange={(event) => set(name, event.target.value.trim())}
            />
        </div>
    );

    return (
        <div className="mb-3 flex flex-wrap items-end gap-3">
            {text('page', 'Part of the address')}
            {text('event', 'Event')}
            {text('visitor', 'Visitor')}
            <div className="w-56">
                <Choice
                    label="Experiment"
                    value={params.get('experiment') ?? ''}
                    options={[
                        { value: '', label: 'Of any experiment' },
                        ...experiments.map((one) => ({ value: one.key, label: one.name })),
                    ]}
                    onChange={(value) => set('experiment', value)}
                />
            </div>
            {chosen && (
                <div className="w-44">
                    <Choice
                        label="Variant"
                        value={params.get('variant') ?? ''}
                        options={[
                            { value: '', label: 'In any variant' },
                            ...chosen.variants.map((one) => ({ value: one.key, label: one.name })),
                        ]}
                        onChange={(value) => set('variant', value)}
                    />
                </div>
            )}
        </div>
    );
}

function Rows({ rows, chosen, query, narrow }: { rows: FeedRow[]; chosen?: string; query: string; narrow: boolean }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const keys = rows.map((row) => (row.kind === 'event' ? row.event.key : row.rejected.key));
    const move = (by: number): void => {
        const at = chosen ? keys.indexOf(chosen) : -1;
        const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
        if (next.kind === 'event') {
            navigate(address.feed(site, next.event.key) + query);
        }
    };
    useKeys({ j: () => move(1), k: () => move(-1) });

    return (
        <div className="overflow-x-auto border-y border-line bg-leaf" tabIndex={0} role="region" aria-label="Events">
            <table className="w-full">
                <thead className="border-b border-line text-left text-sm text-soft">
                    <tr>
                        <th className="py-1 pl-3 font-normal">Received</th>
                        <th className="px-3 font-normal">Event</th>
                        <th className="w-full px-3 font-normal">Page</th>
                        {!narrow && <th className="px-3 font-normal">Variant</th>}
                        {!narrow && <th className="px-3 font-normal">Visitor</th>}
                        <th className="px-3 font-normal">Plan</th>
                    </tr>
                </thead>
                <tbody>
                    {rows.map((row) =>
                        row.kind === 'event' ? (
                            <EventRow
                                key={row.event.key}
                                event={row.event}
                                to={address.feed(site, row.event.key) + query}
                                chosen={row.event.key === chosen}
                                narrow={narrow}
                            />
                        ) : (
                            <RejectedRow key={row.rejected.key} rejected={row.rejected} columns={narrow ? 3 : 5} />
                        ),
                    )}
                </tbody>
            </table>
            <p className="px-3 py-1 text-sm text-soft">{plural(rows.length, 'newest event')}</p>
        </div>
    );
}

/** Drawn once: new events above do not draw the old ones anew. */
const EventRow = memo(function EventRow({
    event,
    to,
    chosen,
    narrow,
}: {
    event: Schemas['FeedEvent'];
    to: string;
    chosen: boolean;
    narrow: boolean;
}) {
    const verdict = VERDICTS[event.verdict];

    return (
        <tr className={`border-b border-line last:border-0 ${chosen ? 'bg-ground' : ''}`} data-event={event.name}>
            <td className="pl-3 text-sm whitespace-nowrap">
                <Moment at={event.received} seconds />
            </td>
            <td className="px-3 whitespace-nowrap">
                <Link
                    to={to}
                    className="inline-block min-w-6 font-mono text-sm leading-[24px] text-accent underline-offset-4 hover:underline"
                >
                    {event.name}
                </Link>
            </td>
            <td className="max-w-0 truncate px-3 font-mono text-sm" title={event.url}>
                {event.url.replace(/^https?:\/\//, '')}
            </td>
            {!narrow && <td className="px-3 text-sm whitespace-nowrap">{event.experiment && `${event.experiment}: ${event.variant}`}</td>}
            {!narrow && <td className="px-3 font-mono text-sm">{event.visitor.slice(0, 8)}</td>}
            <td className={`px-3 text-sm whitespace-nowrap ${verdict.tone}`}>
                {verdict.mark} {verdict.label}
            </td>
        </tr>
    );
});

const RejectedRow = memo(function RejectedRow({ rejected, columns }: { rejected: Schemas['FeedRejected']; columns: number }) {
    return (
        <tr className="border-b border-line last:border-0" data-rejected={rejected.reason}>
            <td className="pl-3 text-sm whitespace-nowrap">
                <Moment at={rejected.received} seconds />
            </td>
            <td colSpan={columns} className="px-3 text-sm">
                <details>
                    <summary>
                        <span className="font-semibold text-broken">rejected, {rejected.reason}</span>: {rejected.message}
                    </summary>
                    <pre className="font-mono break-all whitespace-pre-wrap">{rejected.sample}</pre>
                </details>
            </td>
        </tr>
    );
});

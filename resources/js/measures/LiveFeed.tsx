import { useState } from 'react';
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
import { Table, type Column } from '../parts/Table';
import { MeasuresTabs } from './MeasuresTabs';
import { StoryPanel } from './Story';
import { keyOf, useFeed, type FeedRow } from './useFeed';

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
    /** The feed as it was when it was paused; null while it runs. */
    const [paused, setPaused] = useState<{ query: string; rows: FeedRow[]; total: number } | null>(null);
    const filters = Object.fromEntries([...params].filter(([, value]) => value !== '')) as FeedFilters;
    const feed = useFeed(site, filters);
    const query = params.size > 0 ? `?${params}` : '';
    // Whoever looks for something else looks at it anew.
    const held = paused?.query === query ? paused : null;
    const waiting = held === null ? 0 : Math.max(0, feed.total - held.total);
    const toggle = (): void => setPaused(held === null ? { query, rows: feed.rows, total: feed.total } : null);
    useKeys({ p: toggle });

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <div className="mb-3 flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">Live feed</h1>
                <Button onClick={toggle} aria-pressed={held !== null}>
                    {held === null ? 'Pause' : `Go on${waiting > 0 ? `, ${waiting} wait` : ''}`}
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
                    {(held ?? feed).rows.length === 0 ? (
                        <p className="border-y border-line bg-leaf p-8 text-center">
                            {feed.reading
                                ? 'Reading…'
                                : 'Nothing has arrived that matches. Open a page of the site; its events show here within two seconds.'}
                        </p>
                    ) : (
                        <Rows rows={(held ?? feed).rows} chosen={event} query={query} narrow={event !== undefined} />
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
            {APART.map(([name, label]) => (
                <Tick
                    key={name}
                    label={label}
                    on={params.has(name)}
                    onChange={() => {
                        const next = new URLSearchParams(params);
                        const isOn = next.has(name);
                        ['mine', ...APART.map(([one]) => one)].forEach((one) => next.delete(one));
                        if (!isOn) {
                            next.set(name, '1');
                        }
                        setParams(next, { replace: true });
                    }}
                />
            ))}
            <a href={`${home}/?plx_me=${mark}`} target="_blank" rel="noreferrer" className="text-accent underline underline-offset-4">
                Open the site with my mark
            </a>
        </span>
    );
}

/** What is kept apart from everything that is counted. */
const APART = [
    ['rehearsal', 'what rehearsals sent'],
    ['preview', 'what previews sent'],
    ['own', 'what own people did'],
] as const;

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
    // What a rehearsal or a preview sent counts nowhere: there is no more to be told of it.
    const isApart = APART.some(([name]) => query.includes(`${name}=`));
    const small = 'px-3 text-sm whitespace-nowrap';
    const columns: Column<FeedRow>[] = [
        { key: 'received', head: 'Received', className: small, cell: (row) => <Moment at={row.at} seconds /> },
        {
            key: 'event',
            head: 'Event',
            className: 'px-3 whitespace-nowrap',
            cell: (row) =>
                row.kind === 'event' && isApart ? (
                    <span className="font-mono text-sm">{row.event.name}</span>
                ) : row.kind === 'event' ? (
                    <Link
                        to={address.feed(site, row.event.key) + query}
                        className="inline-block min-w-6 font-mono text-sm leading-[24px] text-accent underline-offset-4 hover:underline"
                    >
                        {row.event.name}
                    </Link>
                ) : (
                    <span className="text-sm font-semibold text-broken">rejected, {row.rejected.reason}</span>
                ),
        },
        {
            key: 'page',
            head: 'Page',
            wide: true,
            className: 'max-w-0 px-3 text-sm',
            cell: (row) =>
                row.kind === 'event' ? (
                    <p className="truncate font-mono" title={row.event.url}>
                        {row.event.url.replace(/^https?:\/\//, '')}
                    </p>
                ) : (
                    <details>
                        <summary>{row.rejected.message}</summary>
                        <pre className="font-mono break-all whitespace-pre-wrap">{row.rejected.sample}</pre>
                    </details>
                ),
        },
        ...(narrow ? [] : WIDE),
        {
            key: 'plan',
            head: 'Plan',
            className: small,
            cell: (row) => row.kind === 'event' && <Verdict of={row.event.verdict} />,
        },
    ];

    return (
        <>
            <Table
                label="Events"
                columns={columns}
                rows={rows}
                rowKey={keyOf}
                rowData={(row): Record<`data-${string}`, string> =>
                    row.kind === 'event' ? { 'data-event': row.event.name } : { 'data-rejected': row.rejected.reason }
                }
                chosen={chosen}
                opensOnMove
                canOpen={(row) => row.kind === 'event'}
                onOpen={(row) => row.kind === 'event' && navigate(address.feed(site, row.event.key) + query)}
            />
            <p className="px-3 py-1 text-sm text-soft">{plural(rows.length, 'newest event')}</p>
        </>
    );
}

/** Only where no event is open beside the list. */
const WIDE: Column<FeedRow>[] = [
    {
        key: 'variant',
        head: 'Variant',
        className: 'px-3 text-sm whitespace-nowrap',
        cell: (row) => row.kind === 'event' && row.event.experiment && `${row.event.experiment}: ${row.event.variant}`,
    },
    {
        key: 'visitor',
        head: 'Visitor',
        className: 'px-3 font-mono text-sm',
        cell: (row) => row.kind === 'event' && row.event.visitor.slice(0, 8),
    },
];

function Verdict({ of }: { of: Schemas['Conformance'] }) {
    const { mark, label, tone } = VERDICTS[of];

    return (
        <span className={tone}>
            {mark} {label}
        </span>
    );
}

import { Fieldset } from '@headlessui/react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { type LinkState, type Schemas } from '../api/client';
import { useRight } from '../api/queries';
import { useCoverage, useFindings, useScans, type PageFilters } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import type { Order } from '../parts/order';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { Waiting } from '../parts/Waiting';
import { AddPages } from './AddPages';
import { FindingList } from './FindingList';
import { PageDetail } from './PageDetail';
import { ScanBar } from './ScanBar';
import { WiringTabs } from './WiringTabs';

const STATES: { value: LinkState; label: string }[] = [
    { value: 'broken', label: 'broken' },
    { value: 'doubt', label: 'in doubt' },
    { value: 'stale', label: 'stale' },
    { value: 'unseen', label: 'not looked at' },
    { value: 'holds', label: 'sound' },
];

const SOURCES: Record<Schemas['PageSource'], string> = {
    sitemap: 'sitemap',
    crawl: 'a link',
    typed: 'typed',
    seen: 'events',
};

/** The pages of the site by the code that must stand on them. */
export function Coverage() {
    const site = useSiteKey();
    const chosen = Number(useParams().page) || null;
    const [params, setParams] = useSearchParams();
    const mayWork = useRight(site) !== 'look';
    const scans = useScans(site);
    const findings = useFindings(site);
    const live = scans.data?.some((scan) => scan.state === 'running') ?? false;
    const filters = Object.fromEntries([...params].filter(([, value]) => value !== '')) as PageFilters;
    const page = Number(params.get('page') ?? '1');
    const coverage = useCoverage(site, { ...filters, page }, live);
    const set = (change: Record<string, string | null>): void => {
        const next = new URLSearchParams(params);
        next.delete('page');
        Object.entries(change).forEach(([name, value]) => (value ? next.set(name, value) : next.delete(name)));
        setParams(next, { replace: true });
    };
    const filter = params.size > 0 ? `?${params}` : '';

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <div className="flex flex-wrap items-baseline gap-x-6">
                <h1 className="text-xl font-semibold">Coverage</h1>
                <a href={address.coverageFile(site, filter)} className="text-accent underline underline-offset-4" download>
                    As CSV
                </a>
            </div>
            <Fieldset disabled={!mayWork} className="contents">
                <ScanBar scans={scans.data ?? []} />
            </Fieldset>
            {findings.data && <FindingList findings={findings.data} />}
            {mayWork && <AddPages />}
            <Waiting query={coverage}>
                {(known) => (
                    <div className="grid gap-x-8 gap-y-4 lg:grid-cols-[17rem_1fr]">
                        <Filters known={known} params={params} set={set} />
                        <div className="min-w-0">
                            {chosen && <PageDetail key={chosen} page={chosen} filter={filter} />}
                            <Pages known={known} params={params} set={set} filter={filter} chosen={chosen} />
                            <Pager known={known} page={page} set={set} />
                        </div>
                    </div>
                )}
            </Waiting>
        </div>
    );
}

interface FilterProps {
    known: Schemas['Coverage'];
    params: URLSearchParams;
    set: (change: Record<string, string | null>) => void;
}

function Filters({ known, params, set }: FilterProps) {
    const codes = [...new Set(known.pages.flatMap((page) => page.required.map((one) => one.code)).concat(params.get('code') ?? []))].filter(
        Boolean,
    );

    return (
        <div className="space-y-4">
            <TextField
                label="Part of the address"
                value={params.get('q') ?? ''}
                className="font-mono text-sm"
                onChange={(e) => set({ q: e.target.value })}
            />
            <nav aria-label="Filter by state">
                <ul>
                    {STATES.map(({ value, label }) => (
                        <li key={value}>
                            <FilterButton
                                on={params.get('state') === value}
                                onClick={() => set({ state: params.get('state') === value ? null : value })}
                            >
                                <StateMark state={value} /> {label} <span className="ml-auto">{count(known.states[value])}</span>
                            </FilterButton>
                        </li>
                    ))}
                </ul>
            </nav>
            <nav aria-label="Filter by group">
                <h2 className="text-sm text-soft">Groups</h2>
                <ul>
                    {known.groups.map((group) => {
                        const value = group.name ?? '-';

                        return (
                            <li key={value}>
                                <FilterButton
                                    on={params.get('group') === value}
                                    onClick={() => set({ group: params.get('group') === value ? null : value })}
                                >
                                    {group.name ?? 'in none'}
                                    <span className="ml-auto whitespace-nowrap">
                                        {count(group.states.holds)} of {count(group.total)}
                                    </span>
                                </FilterButton>
                            </li>
                        );
                    })}
                </ul>
            </nav>
            <Choice
                label="Where the page is known from"
                value={params.get('source') ?? ''}
                options={[
                    { value: '', label: 'Known from anywhere' },
                    ...Object.entries(SOURCES).map(([value, label]) => ({ value, label: `Known from ${label}` })),
                ]}
                onChange={(source) => set({ source })}
            />
            <Choice
                label="Order"
                value={params.get('sort') ?? ''}
                options={[
                    { value: '', label: 'What needs somebody first' },
                    { value: 'url', label: 'By address' },
                    { value: 'inspected', label: 'Longest not looked at first' },
                    { value: '-inspected', label: 'Latest looked at first' },
                ]}
                onChange={(sort) => set({ sort })}
            />
            <Choice
                label="Which code is missing"
                value={params.get('code') ?? ''}
                options={[{ value: '', label: 'Whatever is missing' }, ...codes.map((value) => ({ value, label: `Missing ${value}` }))]}
                onChange={(code) => set({ code })}
            />
        </div>
    );
}

function FilterButton({ on, ...rest }: { on: boolean; onClick: () => void; children: React.ReactNode }) {
    return (
        <button
            type="button"
            aria-pressed={on}
            className={`flex w-full items-center gap-2 border-b border-line px-1 py-1 text-left hover:bg-leaf ${on ? 'bg-leaf font-semibold' : ''}`}
            {...rest}
        />
    );
}

type PageRow = Schemas['Coverage']['pages'][number];

/** Column → what the server sorts by. */
const ORDERS: Record<string, { up: string; down: string }> = {
    state: { up: '', down: '' },
    page: { up: 'url', down: '-url' },
    inspected: { up: 'inspected', down: '-inspected' },
};

function orderOf(sort: string): Order {
    const by = Object.keys(ORDERS).find((one) => [ORDERS[one].up, ORDERS[one].down].includes(sort)) ?? 'state';

    return { by, descending: by !== 'state' && ORDERS[by].down === sort };
}

function Pages({ known, filter, chosen, params, set }: FilterProps & { filter: string; chosen: number | null }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const home = commonest(known.pages.map((page) => page.url.slice(0, pathAt(page.url))));
    if (known.pages.length === 0) {
        return (
            <p className="border-y border-line bg-leaf p-8 text-center">
                {known.inventory === 0
                    ? 'No page is known yet. Find pages above, or type or paste addresses.'
                    : 'No page matches these filters.'}
            </p>
        );
    }
    const small = 'px-3 py-1 text-sm whitespace-nowrap';
    const columns: Column<PageRow>[] = [
        { key: 'state', head: 'State', sort: true, cell: (page) => <StateMark state={page.state} /> },
        {
            key: 'page',
            head: 'Page',
            wide: true,
            sort: true,
            className: 'px-3 py-1 break-all',
            cell: (page) => (
                <Link
                    to={address.coverage(site, page.id) + filter}
                    className="font-mono text-sm text-accent underline-offset-4 hover:underline"
                    aria-label={page.url}
                    title={page.url}
                >
                    {page.url.startsWith(`${home}/`) ? page.url.slice(home.length) : page.url}
                </Link>
            ),
        },
        { key: 'group', head: 'Group', className: `${small} text-soft`, cell: (page) => page.group },
        { key: 'required', head: 'Must have', className: small, cell: (page) => <Required page={page} /> },
        { key: 'source', head: 'Known from', className: small, cell: (page) => SOURCES[page.source] },
        {
            key: 'inspected',
            head: 'Looked at',
            sort: true,
            className: 'px-3 py-1 text-sm',
            cell: (page) => <Moment at={page.inspected_at} />,
        },
    ];

    return (
        <Table
            label="Pages"
            columns={columns}
            rows={known.pages}
            rowKey={(page) => String(page.id)}
            rowData={(page) => ({ 'data-page': page.url, 'data-state': page.state })}
            chosen={chosen === null ? undefined : String(chosen)}
            onOpen={(page) => navigate(address.coverage(site, page.id) + filter)}
            order={orderOf(params.get('sort') ?? '')}
            onOrder={({ by, descending }) => set({ sort: descending ? ORDERS[by].down : ORDERS[by].up })}
        />
    );
}

function Required({ page }: { page: PageRow }) {
    return page.required.length === 0 ? (
        <span className="text-soft">nothing</span>
    ) : (
        page.required.map((one) => (
            <span
                key={one.code}
                className={`mr-3 ${one.stands === false ? 'font-semibold text-broken' : one.stands === null ? 'text-soft' : ''}`}
            >
                {one.stands === false ? '✕' : one.stands === null ? '?' : '✓'} {one.code}
            </span>
        ))
    );
}

/** Scheme and host of most pages: they go without saying. */
function commonest(origins: string[]): string {
    const times = new Map<string, number>();
    origins.forEach((origin) => times.set(origin, (times.get(origin) ?? 0) + 1));

    return [...times].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '';
}

/** Where the path of an address begins. */
function pathAt(url: string): number {
    return /^https?:\/\/[^/?#]*/.exec(url)?.[0].length ?? 0;
}

function Pager({ known, page, set }: { known: Schemas['Coverage']; page: number; set: FilterProps['set'] }) {
    const last = Math.max(1, Math.ceil(known.total / known.per_page));

    return (
        <p className="mt-2 flex items-center gap-3 text-sm text-soft">
            {known.capped && 'at least '}
            {plural(known.total, 'page')} of {count(known.inventory)}
            {last > 1 && (
                <>
                    <Button disabled={page <= 1} onClick={() => set({ page: String(page - 1) })}>
                        Earlier
                    </Button>
                    {page} of {last}
                    <Button disabled={page >= last} onClick={() => set({ page: String(page + 1) })}>
                        Later
                    </Button>
                </>
            )}
        </p>
    );
}

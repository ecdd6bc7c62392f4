import { Fragment, lazy, Suspense, type ComponentType, type LazyExoticComponent } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { isChosen, isUnderWay, useAskAudit, useAudit, useAuditPart, useCancelAudit, type AuditRead, type ReadAudit } from '../api/audits';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { useTitle } from '../parts/useTitle';
import { held } from '../parts/words';
import { Waiting } from '../parts/Waiting';
import { ChainStrip } from './ChainStrip';
import { ExclusionBar } from './ExclusionBar';
import { VERDICT_STATE, VERDICT_WORDS } from './grades';
import { NumberLink } from './NumberLink';
import { PartBar } from './PartBar';
import { chosenIn } from './part';
import { Share } from './Share';

export interface ViewProps {
    site: string;
    audit: ReadAudit;
    read: AuditRead;
    /** Of the chosen part, where one is chosen; else of all. */
    views: AuditRead['views'];
}

const VIEWS: { view: string; label: string; isHidden?: boolean; View: LazyExoticComponent<ComponentType<ViewProps>> }[] = [
    { view: '', label: 'Findings', View: lazy(async () => ({ default: (await import('./Findings')).Findings })) },
    { view: 'split', label: 'Split over time', View: lazy(async () => ({ default: (await import('./views/SplitView')).SplitView })) },
    {
        view: 'segments',
        label: 'Who is missing',
        View: lazy(async () => ({ default: (await import('./views/SegmentsView')).SegmentsView })),
    },
    { view: 'stages', label: 'Stages', View: lazy(async () => ({ default: (await import('./views/StagesView')).StagesView })) },
    { view: 'volume', label: 'Volume', View: lazy(async () => ({ default: (await import('./views/VolumeView')).VolumeView })) },
    { view: 'delays', label: 'Delays', View: lazy(async () => ({ default: (await import('./views/DelaysView')).DelaysView })) },
    { view: 'orders', label: 'Orders', View: lazy(async () => ({ default: (await import('./views/OrdersView')).OrdersView })) },
    {
        view: 'exclusions',
        label: 'Left out',
        View: lazy(async () => ({ default: (await import('./views/ExclusionsView')).ExclusionsView })),
    },
    {
        view: 'rows',
        label: 'Who is behind a number',
        isHidden: true,
        View: lazy(async () => ({ default: (await import('./views/RowsView')).RowsView })),
    },
    { view: 'checks', label: 'What was checked', View: lazy(async () => ({ default: (await import('./views/ChecksView')).ChecksView })) },
];

/** One audit: its verdict first, then the chain with the findings at their links, then the views. */
export function AuditPage() {
    const site = useSiteKey();
    const [params] = useSearchParams();
    const audit = useAudit(site, Number(useParams().audit) || 0, params.has('whole'));

    return <Waiting query={audit}>{(known) => <Known site={site} audit={known} />}</Waiting>;
}

function Known({ site, audit }: { site: string; audit: ReadAudit }) {
    useTitle(`${audit.verdict ? VERDICT_WORDS[audit.verdict] : audit.state} · ${audit.name} · Audit`);

    return (
        <>
            <Head site={site} audit={audit} />
            {isUnderWay(audit) && <UnderWay site={site} audit={audit} />}
            {audit.read && <Read site={site} audit={audit} read={audit.read} />}
        </>
    );
}

function Head({ site, audit }: { site: string; audit: ReadAudit }) {
    const isWhole = Boolean(audit.read?.excludes && audit.read.whole);
    const counts = audit.read?.report.counts;
    const period = audit.read?.report.period;
    const verdict = audit.read?.report.verdict ?? audit.verdict;
    const mayWork = useRight(site) !== 'look';
    const ask = useAskAudit(site);
    const navigate = useNavigate();

    return (
        <header className="mx-auto flex max-w-7xl flex-wrap items-start gap-x-8 gap-y-2 px-5 pt-4 pb-3">
            <div className="min-w-64 flex-1">
                <p className="text-sm text-soft">
                    <Link to={address.audits(site)} className="text-accent underline underline-offset-4">
                        Audits
                    </Link>{' '}
                    ·{' '}
                    {audit.experiment ? (
                        <Link to={address.experiment(site, audit.experiment)} className="text-accent underline underline-offset-4">
                            {audit.name}
                        </Link>
                    ) : (
                        <Link to={address.auditLogs(site, audit.log ?? undefined)} className="text-accent underline underline-offset-4">
                            {audit.name}
                        </Link>
                    )}
                </p>
                <h1 className="flex items-start gap-2.5 text-xl font-semibold">
                    {verdict && (
                        <span className="mt-1">
                            <StateMark state={VERDICT_STATE[verdict]} size={20} />
                        </span>
                    )}
                    <span role="status">{title(audit)}</span>
                </h1>
                <p className="mt-1 text-sm text-soft">
                    {counts && period && (
                        <>
                            {plural(counts.events, 'event')} of {plural(counts.visitors, 'visitor')}, <Moment at={period.from} /> to{' '}
                            <Moment at={period.to} /> · exposed{' '}
                            {Object.entries(counts.variants).map(([key, n], i) => (
                                <Fragment key={key}>
                                    {i > 0 && ', '}
                                    {key}{' '}
                                    <NumberLink behind="exposed" variant={key} ofAll>
                                        {count(n)}
                                    </NumberLink>
                                </Fragment>
                            ))}{' '}
                            ·{' '}
                        </>
                    )}
                    audited <Moment at={audit.ended ?? audit.asked} /> by {audit.by}
                    {audit.since_last && (
                        <>
                            {' '}
                            ·{' '}
                            <Link to={address.audit(site, audit.since_last.audit)} className="text-accent underline underline-offset-4">
                                since the last audit
                            </Link>
                            : <strong className="font-semibold text-ink">{audit.since_last.words}</strong>
                        </>
                    )}
                </p>
            </div>
            <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
                {audit.state === 'done' && (
                    <span className="flex gap-3 text-sm">
                        <a
                            href={address.auditReport(site, audit.audit, 'html', isWhole)}
                            target="_blank"
                            rel="noreferrer"
                            className="text-accent underline underline-offset-4"
                        >
                            Report
                        </a>
                        <a
                            href={address.auditReport(site, audit.audit, 'json', isWhole)}
                            className="text-accent underline underline-offset-4"
                        >
                            JSON
                        </a>
                        <a
                            href={address.auditReport(site, audit.audit, 'csv', isWhole)}
                            className="text-accent underline underline-offset-4"
                        >
                            CSV
                        </a>
                        <Share site={site} audit={audit.audit} />
                    </span>
                )}
                {mayWork && !isUnderWay(audit) && (
                    <Button
                        disabled={ask.isPending}
                        onClick={() =>
                            ask.mutate(audit.experiment ? { experiment: audit.experiment } : { log: audit.log ?? 0 }, {
                                onSuccess: (next) => navigate(address.audit(site, next.audit)),
                            })
                        }
                    >
                        Audit again
                    </Button>
                )}
                {ask.error && (
                    <p role="alert" className="basis-full text-sm text-broken">
                        {ask.error.message}
                    </p>
                )}
            </div>
        </header>
    );
}

function title(audit: ReadAudit): string {
    switch (audit.state) {
        case 'done':
            return held(audit.read?.report.sentence ?? audit.sentence);
        case 'failed':
            return `It could not be audited. ${audit.doing}`;
        case 'cancelled':
            return 'This audit was cancelled.';
        default:
            return 'The events are being read.';
    }
}

function UnderWay({ site, audit }: { site: string; audit: ReadAudit }) {
    const cancel = useCancelAudit(site);
    const mayWork = useRight(site) !== 'look';

    return (
        <section aria-label="Progress" className="mx-auto max-w-7xl px-5 pb-6">
            <div className="flex flex-wrap items-center gap-x-6 gap-y-2 border border-line bg-leaf p-4">
                <progress
                    className="w-72"
                    max={audit.total || undefined}
                    value={audit.total ? audit.done : undefined}
                    aria-label="Events that are read"
                />
                <p className="flex-1" aria-live="polite">
                    {audit.state === 'waiting'
                        ? 'It waits for another audit to end.'
                        : `${count(audit.done)} ${audit.total ? `of about ${count(audit.total)} ` : ''}events`}
                    {audit.seconds_left !== null && `, about ${audit.seconds_left} s left`}
                </p>
                {mayWork && (
                    <Button disabled={cancel.isPending} onClick={() => cancel.mutate(audit.audit)}>
                        Cancel
                    </Button>
                )}
            </div>
        </section>
    );
}

function Read({ site, audit, read }: { site: string; audit: ReadAudit; read: AuditRead }) {
    const view = useParams().view ?? '';
    const [params] = useSearchParams();
    const chosen = chosenIn(params);
    const part = useAuditPart(site, audit.audit, chosen, isChosen(chosen) && read.parts);
    const known = VIEWS.find((one) => one.view === view);
    // What is chosen stays chosen from one view to the next.
    const kept = new URLSearchParams([
        ...(Object.entries(chosen).filter(([, value]) => value) as [string, string][]),
        ...(params.has('whole') ? [['whole', '1']] : []),
    ]).toString();

    return (
        <>
            <ChainStrip site={site} audit={audit} read={read} />
            <div className="mx-auto max-w-7xl px-5 py-3">
                <nav aria-label="Views of the audit" className="mb-3 flex flex-wrap gap-x-5 border-b border-line">
                    {VIEWS.filter((one) => !one.isHidden || one.view === view).map((one) => (
                        <Link
                            key={one.view}
                            to={one.isHidden ? `?${params}` : `${address.audit(site, audit.audit, one.view)}${kept ? `?${kept}` : ''}`}
                            aria-current={one.view === view ? 'page' : undefined}
                            className="border-b-3 border-transparent px-1 py-1.5 text-accent hover:border-line aria-[current]:border-accent aria-[current]:font-semibold aria-[current]:text-ink"
                        >
                            {one.label}
                        </Link>
                    ))}
                </nav>
                <ExclusionBar read={read} />
                {view !== 'checks' && view !== 'exclusions' && (
                    <PartBar site={site} audit={audit.audit} read={read} chosen={chosen} part={part} />
                )}
                {known ? (
                    <Suspense fallback={<p className="text-soft">Reading…</p>}>
                        <known.View site={site} audit={audit} read={read} views={part.data?.views ?? read.views} />
                    </Suspense>
                ) : (
                    <p>There is no such view. They are in the line above.</p>
                )}
            </div>
        </>
    );
}

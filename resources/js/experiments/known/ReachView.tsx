import type { Reach, Trial } from '../../api/experiments';
import { count, percent, plural } from '../../parts/figures';
import { FACT_LABELS } from '../../parts/ruleRows';

/** How far the counting is, and why there is none. */
export function ReachProgress({ reach }: { reach: Trial<unknown> }) {
    if (reach.failed || reach.error) {
        return (
            <p className="text-sm text-broken">{reach.error?.message ?? 'The counting broke off. Change something to begin it again.'}</p>
        );
    }

    return reach.isRunning ? (
        <p className="text-sm text-soft" aria-live="polite">
            {reach.total > 0 ? (
                <>
                    <progress className="mr-2 align-middle" value={reach.done} max={reach.total} />
                    {count(reach.done)} of {plural(reach.total, 'visitor')} looked at…
                </>
            ) : (
                'Looking at what is known…'
            )}
        </p>
    ) : null;
}

/** The pages that a rule matches, and those that it narrowly misses. */
export function PagesReached({ reach }: { reach: Trial<Reach> }) {
    const known = reach.result;

    return (
        <div aria-label="What the page rule matches" role="region">
            <ReachProgress reach={reach} />
            {known && (
                <div className={reach.isRunning ? 'text-soft' : ''}>
                    <p>
                        <strong data-figure="matching">{count(known.matching_total)}</strong> of {plural(known.known, 'known page')} match;{' '}
                        <strong data-figure="views">{plural(known.views, 'page view')}</strong> by{' '}
                        <strong data-figure="visitors">{plural(known.visitors, 'visitor')}</strong> in the last 28 days
                        {known.partial && ', among the visitors who came last'}.
                    </p>
                    <Addresses all={known.matching} more={known.matching_total - known.matching.length} />
                    {known.matching_total === 0 && known.pages.length > 0 && (
                        <>
                            <p className="mt-1 text-sm">Viewed, and not in the inventory:</p>
                            <Addresses all={known.pages.map(({ url }) => url)} more={0} />
                        </>
                    )}
                    {known.near.length > 0 && (
                        <>
                            <p className="mt-2 text-sm font-semibold">Narrowly missed</p>
                            <ul className="text-sm">
                                {known.near.map(({ url, why }) => (
                                    <li key={url} className="break-words">
                                        <span className="font-mono">{url}</span> <span className="text-soft">{why}</span>
                                    </li>
                                ))}
                            </ul>
                        </>
                    )}
                    {known.element && (
                        <p className="mt-2">
                            <code className="font-mono text-sm">{known.element.selector}</code> is on{' '}
                            <strong data-figure="carrying">{count(known.element.carrying)}</strong> of{' '}
                            {plural(known.element.looked, 'inspected page')} that match
                            {known.element.looked === 0 && ': none has been inspected yet, so nobody knows'}.
                        </p>
                    )}
                </div>
            )}
        </div>
    );
}

function Addresses({ all, more }: { all: string[]; more: number }) {
    return (
        <ul className="font-mono text-sm">
            {all.map((url) => (
                <li key={url} className="truncate">
                    {url}
                </li>
            ))}
            {more > 0 && <li className="font-sans text-soft">and {count(more)} more</li>}
        </ul>
    );
}

/** Who would have entered in the last four weeks. */
export function VisitorsReached({ reach, share }: { reach: Trial<Reach>; share: number }) {
    const known = reach.result;

    return (
        <div aria-label="Who would enter" role="region">
            <ReachProgress reach={reach} />
            {known && (
                <div className={reach.isRunning ? 'text-soft' : ''}>
                    <p>
                        Of {plural(known.visitors, 'visitor')} of these pages in the last 28 days,{' '}
                        <strong data-figure="eligible">{count(known.eligible)}</strong> are eligible
                        {known.visitors > 0 && ` (${percent(known.eligible / known.visitors)})`}
                        {share >= 0 && share < 1 && `, and about ${count(known.eligible * share)} would have entered`}.
                    </p>
                    {(known.unknown > 0 || known.unrecorded.length > 0) && (
                        <p className="mt-1 border-l-3 border-doubt pl-2 text-sm">
                            Nobody can tell of {plural(known.unknown, 'visitor')}:{' '}
                            {known.unrecorded.length > 0
                                ? `recorded events do not hold ${known.unrecorded.map(factWords).join(', ')}`
                                : 'their events do not say with what they came'}
                            .
                        </p>
                    )}
                </div>
            )}
        </div>
    );
}

function factWords(fact: string): string {
    const stem = Object.keys(FACT_LABELS).find((one) => one.endsWith('.') && fact.startsWith(one));

    return stem ? `${FACT_LABELS[stem]} ${fact.slice(stem.length)}` : (FACT_LABELS[fact] ?? fact);
}

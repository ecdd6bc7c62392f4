import type { Schemas } from '../api/client';
import { count, decimal, percent, plural } from '../parts/figures';

type Trial = Schemas['Trial'];
type Run = Schemas['TrialRun'];

/** What a goal that is being written matches and narrowly misses, and what it would have counted. */
export function TrialView({ run, pending, wrong }: { run?: Run; pending: boolean; wrong?: string }) {
    const trial = run?.result;

    return (
        <section aria-label="Tried on what is known" aria-live="polite" className="min-w-0">
            <h2 className="text-lg font-semibold">
                Tried on what is known {pending && <span className="text-sm font-normal text-soft">counting…</span>}
            </h2>
            {run?.state === 'running' && run.total > 0 && (
                <p className="text-sm text-soft">
                    <progress className="mr-2 align-middle" value={run.done} max={run.total} />
                    {count(run.done)} of {plural(run.total, 'visitor')}
                </p>
            )}
            {run?.state === 'failed' && <p className="mt-2 text-broken">The trial broke off. Change something to try it again.</p>}
            {wrong && <p className="mt-2 text-soft">Not yet: {wrong}</p>}
            {!wrong && trial && (
                <div className={pending ? 'opacity-60' : ''}>
                    {trial.questions.map((question) => (
                        <p key={question} className="my-2 border-l-3 border-doubt pl-3">
                            {question}
                        </p>
                    ))}
                    <Counts trial={trial} />
                    <Pages trial={trial} />
                </div>
            )}
        </section>
    );
}

function Counts({ trial }: { trial: Trial }) {
    return (
        <>
            <table className="mt-2 w-full border-y border-line bg-leaf text-right">
                <caption className="py-1 text-left text-sm text-soft">
                    It would have counted{trial.partial && ', among a part of the visitors'}
                </caption>
                <thead className="text-sm text-soft">
                    <tr>
                        <th className="py-1 pl-3 text-left font-normal">in the last</th>
                        <th className="px-2 font-normal">Hits</th>
                        <th className="px-2 font-normal">Visitors</th>
                        <th className="px-2 font-normal">Sessions</th>
                        <th className="px-2 font-normal">of all visitors</th>
                        <th className="px-3 font-normal">Value</th>
                    </tr>
                </thead>
                <tbody>
                    {trial.counts.map((one) => (
                        <tr key={one.days} className="border-t border-line" data-days={one.days}>
                            <td className="py-1 pl-3 text-left">{one.days} days</td>
                            <td className="px-2" data-figure="hits">
                                {count(one.hits)}
                            </td>
                            <td className="px-2">{count(one.visitors)}</td>
                            <td className="px-2">{count(one.sessions)}</td>
                            <td className="px-2">{percent(one.rate, 2)}</td>
                            <td className="px-3 whitespace-nowrap">{value(one)}</td>
                        </tr>
                    ))}
                </tbody>
            </table>
            {trial.pages.length > 0 && (
                <ul className="mt-2 text-sm">
                    {trial.pages.map((page) => (
                        <li key={page.url} className="flex justify-between gap-4 border-b border-line py-0.5">
                            <span className="min-w-0 truncate font-mono">{page.url}</span>
                            {count(page.hits)}
                        </li>
                    ))}
                </ul>
            )}
        </>
    );
}

function value(one: Trial['counts'][number]): string {
    const values = Object.entries(one.values);
    if (values.length > 1) {
        return values.map(([currency, sum]) => `${decimal(sum, 2)} ${currency}`).join(', ');
    }

    return one.value === null ? '–' : `${decimal(one.value, 2)} ${one.currency ?? ''}`;
}

function Pages({ trial }: { trial: Trial }) {
    if (trial.known === 0) {
        return null;
    }

    return (
        <>
            <h3 className="mt-4 font-semibold">
                {plural(trial.matching_total, 'page')} of the inventory {trial.matching_total === 1 ? 'matches' : 'match'}
            </h3>
            <ul className="font-mono text-sm">
                {trial.matching.map((url) => (
                    <li key={url} className="truncate">
                        {url}
                    </li>
                ))}
                {trial.matching_total > trial.matching.length && <li>and {count(trial.matching_total - trial.matching.length)} more</li>}
            </ul>
            {trial.near.length > 0 && (
                <>
                    <h3 className="mt-3 font-semibold">Near misses</h3>
                    <ul className="text-sm">
                        {trial.near.map((one) => (
                            <li key={one.url}>
                                <span className="font-mono break-all">{one.url}</span>: {one.why}
                            </li>
                        ))}
                    </ul>
                </>
            )}
        </>
    );
}

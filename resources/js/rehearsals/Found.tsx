import { Link } from 'react-router';
import type { RehearsalFinding, RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { StateMark } from '../parts/StateMark';
import { LINK_LABELS, SCREENS } from '../parts/vocabulary';

const MARKS = { blocker: 'broken', warning: 'doubt', note: 'unseen' } as const;

/** What a rehearsal found, the gravest first: the consequence, the cause, what to do, and the link of the chain that it touches. */
export function Found({ site, experiment, report }: { site: string; experiment?: string; report: RehearsalReport }) {
    if (report.findings.length === 0) {
        return null;
    }

    return (
        <section aria-label="Findings">
            <h3 className="mb-2 font-semibold">What was found</h3>
            <FindingList site={site} experiment={experiment} findings={report.findings} />
        </section>
    );
}

export function FindingList({ site, experiment, findings }: { site: string; experiment?: string; findings: RehearsalFinding[] }) {
    return (
        <ul className="border border-line bg-leaf">
            {findings.map((one) => (
                <li key={one.identity} data-code={one.code} className="flex gap-3 border-b border-line px-3 py-2 last:border-0">
                    <span className="pt-0.5" title={one.severity}>
                        <StateMark state={MARKS[one.severity]} />
                    </span>
                    <div className="min-w-0">
                        <p className="font-semibold break-words">{one.words}</p>
                        {one.cause && <p className="break-words">{one.cause}</p>}
                        {one.next && <p className="text-soft">{one.next}</p>}
                        <p className="text-sm text-soft">
                            {one.severity}
                            {experiment && (
                                <>
                                    {' · '}
                                    <Link
                                        className="text-accent underline underline-offset-4"
                                        to={address.experiment(site, experiment, one.link)}
                                    >
                                        {LINK_LABELS[one.link]}
                                    </Link>
                                </>
                            )}
                            {one.variant && ` · ${one.variant}`}
                            {(one.screens ?? (one.screen ? [one.screen] : [])).map((screen) => ` · ${SCREENS[screen]}`)}
                        </p>
                    </div>
                </li>
            ))}
        </ul>
    );
}

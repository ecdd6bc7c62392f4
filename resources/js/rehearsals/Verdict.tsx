import type { RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';

const WHY = { asked: '', published: ', after a publication', planned: ', at its time' };

/** What a rehearsal comes to, in one sentence; when it was held, on what, and how long it took. */
export function Verdict({ site, report }: { site: string; report: RehearsalReport }) {
    return (
        <header>
            <h2 className="flex items-center gap-2 text-lg font-semibold">
                <StateMark state={report.verdict} />
                <span role="status">{report.words}</span>
            </h2>
            <p className="text-sm text-soft">
                <Moment at={report.started ?? report.asked} /> · {report.by}
                {WHY[report.why]}
                {report.revision !== null && ` · revision ${report.revision}`}
                {report.configuration !== null && ` · published file ${report.configuration}`}
                {report.state === 'done' && ` · ${Math.round(report.seconds)} s`}
            </p>
            {report.state === 'done' && (
                <p className="mt-1 flex gap-5 text-sm">
                    {(['report.html', 'junit.xml'] as const).map((form) => (
                        <a
                            key={form}
                            className="text-accent underline underline-offset-4"
                            href={address.rehearsalReport(site, report.rehearsal, form)}
                        >
                            {form === 'report.html' ? 'Report as one HTML page' : 'Results as JUnit XML'}
                        </a>
                    ))}
                </p>
            )}
        </header>
    );
}

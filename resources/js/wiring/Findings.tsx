import type { Schemas } from '../api/client';
import { StateMark } from '../parts/StateMark';
import { Copyable } from './Copyable';

const MARKS = { broken: 'broken', doubt: 'doubt', sound: 'holds' } as const;
const WORDS = {
    broken: 'The wiring does not work on this page as it stands.',
    doubt: 'The wiring works on this page, but not as it should.',
    sound: 'Everything that must stand on this page does, once, in its place and unharmed.',
};
const TONES = { blocker: 'text-broken', warning: 'text-doubt-ink', note: 'text-soft' };

/** What an inspection found, with the place of each finding. Whatever came from the page is shown as text only. */
export function Findings({ verdict, findings }: { verdict: Schemas['Verdict']; findings: Schemas['InspectionFinding'][] }) {
    return (
        <>
            <h2 className="mb-3 flex items-center gap-3 text-lg font-semibold">
                <StateMark state={MARKS[verdict]} size={22} />
                {WORDS[verdict]}
            </h2>
            {findings.map((finding, i) => (
                <article key={i} className="mb-3 border border-line bg-leaf">
                    <header className="flex flex-wrap items-baseline gap-x-4 border-b border-line px-4 py-1.5">
                        <h3 className="font-mono text-sm font-semibold">{finding.code}</h3>
                        <span className={TONES[finding.severity]}>{finding.severity}</span>
                        <span className="ml-auto text-sm text-soft">
                            line {finding.line}, column {finding.column}
                        </span>
                    </header>
                    <div className="px-4 py-2">
                        <p>{finding.message}</p>
                        <p className="mt-1">{finding.fix}</p>
                        <pre
                            className="mt-2 overflow-x-auto border-l-3 border-line pl-3 font-mono text-sm"
                            tabIndex={0}
                            aria-label="Excerpt of the page"
                        >
                            {finding.excerpt}
                        </pre>
                        {finding.paste && (
                            <details className="mt-2">
                                <summary>Text to paste</summary>
                                <Copyable text={finding.paste} name="text" />
                            </details>
                        )}
                    </div>
                </article>
            ))}
        </>
    );
}

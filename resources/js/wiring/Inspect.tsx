import { useState, type FormEvent } from 'react';
import { Problem, type Schemas } from '../api/client';
import { useInspection, useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { StateMark } from '../parts/StateMark';
import { WiringTabs } from './WiringTabs';

type Report = Schemas['Report'];
type Guarded = 'any' | 'yes' | 'no';

const MARKS = { broken: 'broken', doubt: 'doubt', sound: 'holds' } as const;
const WORDS = {
    broken: 'The snippet does not work on this page as it stands.',
    doubt: 'The snippet works on this page, but not as it should.',
    sound: 'The snippet stands on this page, once, in its place and unharmed.',
};

/** Looks for the snippet in the HTML of one page. */
export function Inspect() {
    const site = useSite(useSiteKey());
    const inspection = useInspection(useSiteKey());
    const [url, setUrl] = useState('');
    const [html, setHtml] = useState('');
    const [policy, setPolicy] = useState('');
    const [guard, setGuard] = useState<Guarded>('any');
    const problem = inspection.error instanceof Problem ? inspection.error : null;

    const submit = (event: FormEvent): void => {
        event.preventDefault();
        inspection.mutate({
            url: url.trim() || null,
            html,
            policy: policy.trim() || null,
            guard: guard === 'any' ? null : guard === 'yes',
        });
    };

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <div className="grid gap-8 lg:grid-cols-[24rem_1fr]">
                <form onSubmit={submit} className="space-y-3" noValidate>
                    <h1 className="text-xl font-semibold">Inspect a page</h1>
                    <TextField
                        label="Address"
                        type="url"
                        className="font-mono text-sm"
                        placeholder={`https://${site.data?.hosts[0] ?? ''}/`}
                        note="A page on one of the site's hosts: Pellix fetches it."
                        value={url}
                        error={problem?.errors.url?.[0]}
                        onChange={(event) => setUrl(event.target.value)}
                    />
                    <TextArea
                        label="Or the HTML of the page"
                        note="What the server sends counts: view the source of the page in the browser and copy all of it."
                        className="font-mono text-sm"
                        rows={7}
                        spellCheck={false}
                        value={html}
                        error={problem?.errors.html?.[0]}
                        onChange={(event) => setHtml(event.target.value)}
                    />
                    <label className="block">
                        <span className="mb-0.5 block font-semibold">Or a file</span>
                        <input
                            type="file"
                            accept=".html,.htm,.xhtml,text/html"
                            className="w-full border border-line bg-leaf p-1.5"
                            onChange={async (event) => setHtml((await event.target.files?.[0]?.text()) ?? '')}
                        />
                    </label>
                    <TextField
                        label="Content-Security-Policy header"
                        note="If the page came with one."
                        className="font-mono text-sm"
                        value={policy}
                        error={problem?.errors.policy?.[0]}
                        onChange={(event) => setPolicy(event.target.value)}
                    />
                    <Choice
                        label="Flicker guard"
                        value={guard}
                        options={[
                            { value: 'any', label: 'A flicker guard may stand there or not' },
                            { value: 'yes', label: 'A flicker guard must stand there' },
                            { value: 'no', label: 'No flicker guard is needed there' },
                        ]}
                        onChange={setGuard}
                    />
                    <Button type="submit" look="main" disabled={inspection.isPending}>
                        Inspect
                    </Button>
                    {problem && Object.keys(problem.errors).length === 0 && (
                        <p role="alert" className="text-broken">
                            {problem.message}
                        </p>
                    )}
                </form>
                <section aria-label="Findings" aria-live="polite" className="min-w-0">
                    {inspection.data ? (
                        <Findings report={inspection.data} />
                    ) : (
                        <p className="border-y border-line bg-leaf p-8 text-soft">
                            Here will stand whether the snippet is on the page, whether it is there once, in its place and unharmed, and
                            what keeps it from working.
                        </p>
                    )}
                </section>
            </div>
        </div>
    );
}

function Findings({ report }: { report: Report }) {
    return (
        <>
            <h2 className="mb-3 flex items-center gap-3 text-lg font-semibold">
                <StateMark state={MARKS[report.verdict]} size={22} />
                {WORDS[report.verdict]}
            </h2>
            {report.findings.map((finding) => (
                <article key={`${finding.code} ${finding.line} ${finding.column}`} className="mb-3 border border-line bg-leaf">
                    <header className="flex flex-wrap items-baseline gap-x-4 border-b border-line px-4 py-1.5">
                        <h3 className="font-mono text-sm font-semibold">{finding.code}</h3>
                        <span
                            className={
                                finding.severity === 'blocker' ? 'text-broken' : finding.severity === 'warning' ? 'text-doubt' : 'text-soft'
                            }
                        >
                            {finding.severity}
                        </span>
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
                    </div>
                </article>
            ))}
        </>
    );
}

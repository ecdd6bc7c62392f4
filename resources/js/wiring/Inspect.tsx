import { useState, type FormEvent } from 'react';
import { Problem, type Schemas } from '../api/client';
import { useInspection, useSite } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { Findings } from './Findings';
import { Table, type Column } from '../parts/Table';
import { WiringTabs } from './WiringTabs';

type Report = Schemas['Report'];
type Guarded = 'any' | 'yes' | 'no';

/** A capture is JSON with a log in it; no page begins like that. */
function isCapture(text: string): boolean {
    return /^\s*\{\s*"log"/.test(text);
}

/** Inspects one page, a zip of pages, or a capture of what a browser really asked for. */
export function Inspect() {
    const site = useSite(useSiteKey());
    const inspection = useInspection(useSiteKey());
    const [url, setUrl] = useState('');
    const [html, setHtml] = useState('');
    const [policy, setPolicy] = useState('');
    const [guard, setGuard] = useState<Guarded>('any');
    const [archive, setArchive] = useState<File | null>(null);
    const problem = inspection.error instanceof Problem ? inspection.error : null;

    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (archive) {
            // Its bytes go as they are: a text that was read here would have lost its encoding.
            inspection.mutate({ archive, policy: policy.trim() || null, guard: guard === 'any' ? null : guard === 'yes' });
            return;
        }
        inspection.mutate({
            url: url.trim() || null,
            ...(isCapture(html) ? { har: html } : { html }),
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
                            accept=".html,.htm,.xhtml,.xht,.har,.zip,text/html"
                            className="w-full border border-line bg-leaf p-1.5"
                            onChange={(event) => setArchive(event.target.files?.[0] ?? null)}
                        />
                        <span className="mt-0.5 block text-sm text-soft">A page, a zip of pages, or a HAR capture of a network panel.</span>
                        {(problem?.errors.archive ?? problem?.errors.har) && (
                            <span role="alert" className="block text-sm text-broken">
                                {(problem?.errors.archive ?? problem?.errors.har)?.[0]}
                            </span>
                        )}
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
                    <FormProblem problem={problem} />
                </form>
                <section aria-label="Findings" aria-live="polite" className="min-w-0">
                    {inspection.data ? (
                        <Reports reports={inspection.data} />
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

function Reports({ reports }: { reports: Report[] }) {
    return reports.map((report, i) => (
        <section key={i} className="mb-6" aria-label={report.source ?? 'Page'}>
            {report.source && <p className="mb-1 font-mono text-sm break-all">{report.source}</p>}
            <Findings verdict={report.verdict} findings={report.findings} />
            {report.calls && <Calls calls={report.calls} />}
        </section>
    ));
}

const CALLS: Column<Schemas['Call'] & { key: string }>[] = [
    {
        key: 'when',
        head: 'When',
        sort: (call) => call.at,
        className: 'px-3 py-1 text-sm whitespace-nowrap',
        cell: (call) => call.at.slice(11, 23),
    },
    { key: 'what', head: 'What', sort: (call) => call.what, className: 'px-3 py-1 text-sm', cell: (call) => call.what },
    {
        key: 'request',
        head: 'Request',
        sort: (call) => call.url,
        className: 'px-3 py-1 font-mono text-sm break-all',
        cell: (call) => `${call.method} ${call.url.replace(/\?.*/, '')}`,
    },
    { key: 'answer', head: 'Answer', sort: (call) => call.status, className: 'px-3 py-1 text-sm', cell: (call) => call.status || 'none' },
    { key: 'events', head: 'Events', className: 'px-3 py-1 text-sm', cell: (call) => call.events.join(', ') },
    {
        key: 'parameters',
        head: 'Parameters',
        className: 'px-3 py-1 font-mono text-sm break-all',
        cell: (call) =>
            Object.entries(call.parameters)
                .map(([name, value]) => `${name}=${value}`)
                .join(' '),
    },
];

/** The requests of Pellix and of expected tags that a capture holds, in the order of time. */
function Calls({ calls }: { calls: Schemas['Call'][] }) {
    if (calls.length === 0) {
        return <p>The capture holds no request of Pellix.</p>;
    }

    return (
        <Table
            label="Requests"
            columns={CALLS}
            rows={calls.map((call, at) => ({ ...call, key: String(at) }))}
            rowKey={(call) => call.key}
        />
    );
}

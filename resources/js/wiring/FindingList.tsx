import { useState } from 'react';
import { Link } from 'react-router';
import { Problem, type Schemas } from '../api/client';
import { useExplain } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';

type Finding = Schemas['Finding'];

/** Findings that are open; each can be explained. */
export function FindingList({ findings }: { findings: Finding[] }) {
    const open = findings.filter((finding) => finding.state === 'open');
    const closed = findings.filter((finding) => finding.state !== 'open');
    if (findings.length === 0) {
        return null;
    }

    return (
        <section aria-label="Findings" className="mb-4">
            {open.map((finding) => (
                <Open key={finding.id} finding={finding} />
            ))}
            {closed.length > 0 && (
                <details className="text-sm">
                    <summary>{closed.length} earlier findings are mended or explained</summary>
                    <ul>
                        {closed.map((finding) => (
                            <li key={finding.id}>
                                <span className="font-mono">{finding.code}</span> {finding.page?.url ?? finding.experiment?.name}:{' '}
                                {finding.state}. {finding.note}
                            </li>
                        ))}
                    </ul>
                </details>
            )}
        </section>
    );
}

function Open({ finding }: { finding: Finding }) {
    const site = useSiteKey();
    const explain = useExplain(site);
    const [note, setNote] = useState<string | null>(null);

    return (
        <article className="mb-2 border border-broken bg-leaf px-4 py-2">
            <header className="flex flex-wrap items-baseline gap-x-4">
                <h2 className="font-mono text-sm font-semibold">{finding.code}</h2>
                <span className="text-broken">{finding.severity}</span>
                {finding.experiment && (
                    <Link
                        to={address.experimentView(site, finding.experiment.key, 'rehearsal')}
                        className="ml-2 text-accent underline underline-offset-4"
                    >
                        {finding.experiment.name}: rehearsal
                    </Link>
                )}
                {finding.page && (
                    <Link
                        to={address.coverage(site, finding.page.id)}
                        className="font-mono text-sm break-all text-accent underline underline-offset-4"
                    >
                        {finding.page.url}
                    </Link>
                )}
                <span className="ml-auto text-sm text-soft">
                    worked until <Moment at={finding.since} />
                </span>
            </header>
            <p>
                {finding.message} {finding.fix}
            </p>
            {note === null ? (
                <Button className="mt-1" onClick={() => setNote('')}>
                    Explain it
                </Button>
            ) : (
                <form
                    className="mt-1 flex flex-wrap items-start gap-2"
                    onSubmit={(event) => {
                        event.preventDefault();
                        explain.mutate({ finding: finding.id, state: 'explained', note });
                    }}
                >
                    <div className="w-96 max-w-full">
                        <TextField
                            label="Why it is as it should be"
                            hideLabel
                            placeholder="Why it is as it should be"
                            autoFocus
                            value={note}
                            error={explain.error instanceof Problem ? explain.error.errors.note?.[0] : undefined}
                            onChange={(event) => setNote(event.target.value)}
                        />
                    </div>
                    <Button type="submit" look="main">
                        Explained
                    </Button>
                    <Button onClick={() => setNote(null)}>Leave it open</Button>
                </form>
            )}
        </article>
    );
}

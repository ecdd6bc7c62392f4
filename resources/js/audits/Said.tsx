import { useState, type FormEvent } from 'react';
import { useSayOfFinding, type AuditFinding, type AuditRead, type ReadAudit } from '../api/audits';
import { Problem } from '../api/client';
import { Button } from '../parts/Button';
import { TextArea, TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';

const STANDING: Record<AuditRead['standings'][number]['standing'], string> = {
    open: '',
    explained: 'The explanation holds.',
    expired: 'The explanation has ended: it counts as open again.',
    declared: 'No audit has looked since.',
    mended: 'This audit confirms it: it ended then.',
    contradicted: 'This audit contradicts it: it goes on.',
};

interface Props {
    site: string;
    audit: ReadAudit;
    read: AuditRead;
    finding: AuditFinding;
    mayWork: boolean;
}

/** What somebody has said of a finding, and the way to say it: explained with a reason and an end, or mended with what was done. */
export function Said({ site, audit, read, finding, mayWork }: Props) {
    const said = read.standings.find(({ identity }) => identity === finding.identity);
    const [saying, setSaying] = useState<'explained' | 'mended' | null>(null);
    const say = useSayOfFinding(site, audit.audit);

    return (
        <section aria-label="What was said of it" className="mt-3 border-t border-line pt-3">
            {said && (
                <p className="mb-2">
                    <strong className="font-semibold">{said.state === 'mended' ? 'Said to be mended' : 'Explained'}</strong> by {said.by},{' '}
                    <Moment at={said.at} />
                    {said.until && `, until ${said.until}`}: “{said.note}”{' '}
                    <span className={said.standing === 'contradicted' ? 'font-semibold text-broken' : 'text-soft'}>
                        {STANDING[said.standing]}
                    </span>
                </p>
            )}
            {mayWork && saying === null && (
                <div className="flex flex-wrap gap-2">
                    <Button onClick={() => setSaying('explained')}>Explain it…</Button>
                    <Button onClick={() => setSaying('mended')}>Say that it is mended…</Button>
                    {said && (
                        <Button disabled={say.isPending} onClick={() => say.mutate({ identity: finding.identity, state: null })}>
                            Take back what was said
                        </Button>
                    )}
                </div>
            )}
            {saying !== null && (
                <Form
                    key={saying}
                    state={saying}
                    busy={say.isPending}
                    problem={say.error instanceof Problem ? say.error : null}
                    onSay={(note, until) =>
                        say.mutate({ identity: finding.identity, state: saying, note, until }, { onSuccess: () => setSaying(null) })
                    }
                    onLeave={() => {
                        say.reset();
                        setSaying(null);
                    }}
                />
            )}
        </section>
    );
}

interface FormProps {
    state: 'explained' | 'mended';
    busy: boolean;
    problem: Problem | null;
    onSay: (note: string, until: string | null) => void;
    onLeave: () => void;
}

function Form({ state, busy, problem, onSay, onLeave }: FormProps) {
    const [note, setNote] = useState('');
    const [until, setUntil] = useState('');
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        onSay(note, until || null);
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-2">
            <TextArea
                autoFocus
                label={state === 'explained' ? 'Why it is so, and why the data can be used all the same' : 'What was done, and where'}
                value={note}
                error={problem?.errors.note?.[0]}
                onChange={(event) => setNote(event.target.value)}
            />
            {state === 'explained' && (
                <div className="w-56">
                    <TextField
                        label="Until (the last day)"
                        type="date"
                        value={until}
                        note="Without a day it holds for good."
                        error={problem?.errors.until?.[0]}
                        onChange={(event) => setUntil(event.target.value)}
                    />
                </div>
            )}
            {problem && !problem.errors.note && !problem.errors.until && (
                <p role="alert" className="text-broken">
                    {problem.message}
                </p>
            )}
            <div className="flex gap-2">
                <Button type="submit" look="main" disabled={busy}>
                    {state === 'explained' ? 'Explain it' : 'It is mended'}
                </Button>
                <Button onClick={onLeave}>Leave it</Button>
            </div>
        </form>
    );
}

import { useState, type FormEvent } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useBriefs, useMakeBrief, useRevokeBrief } from '../api/wiring';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { WiringTabs } from './WiringTabs';

type Brief = Schemas['Brief'];

const DAYS = ['7', '14', '30', '90'];

/** Briefs for whoever puts the code onto the pages: a link each, without an account. */
export function Briefs() {
    const briefs = useBriefs(useSiteKey());

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[24rem_1fr]">
                <Form />
                <section aria-label="Briefs" className="min-w-0">
                    <Waiting query={briefs}>
                        {(known) =>
                            known.length === 0 ? (
                                <p className="border-y border-line bg-leaf p-8 text-soft">
                                    No brief has been made. It says which code goes onto which pages and in which order, and shows live
                                    which pages still miss it.
                                </p>
                            ) : (
                                known.map((brief) => <One key={brief.id} brief={brief} />)
                            )
                        }
                    </Waiting>
                </section>
            </div>
        </div>
    );
}

function Form() {
    const site = useSiteKey();
    const guards = useSite(site).data?.guards ?? [];
    const make = useMakeBrief(site);
    const [params] = useSearchParams();
    const experiment = params.get('experiment');
    const variant = params.get('variant');
    const form = useDraft({ recipient: '', message: '', days: '14', guard: '' }, make);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        make.mutate(
            {
                recipient: draft.recipient,
                message: draft.message,
                days: Number(draft.days),
                guard_ms: draft.guard && !experiment ? Number(draft.guard) : null,
                ...(experiment ? { experiment, variant } : {}),
            },
            { onSuccess: () => form.kept({ ...draft, recipient: '' }) },
        );
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3">
            <h1 className="text-xl font-semibold">Hand the job to a developer</h1>
            {experiment && (
                <p className="border-l-3 border-accent pl-2">
                    About what variant <span className="font-mono">{variant}</span> of <span className="font-mono">{experiment}</span>{' '}
                    changed: before, after, where, and how far the site shows it by itself.
                </p>
            )}
            {errors.variant && (
                <p role="alert" className="text-broken">
                    {errors.variant}
                </p>
            )}
            <p>The link needs no account. Whoever has it can read the brief until it ends, and nothing else.</p>
            <TextField
                label="For whom"
                value={draft.recipient}
                error={errors.recipient}
                onChange={(event) => set({ recipient: event.target.value })}
            />
            <TextArea
                label="What you want to tell them"
                rows={4}
                value={draft.message}
                error={errors.message}
                onChange={(event) => set({ message: event.target.value })}
            />
            <Choice
                label="How long the link works"
                value={draft.days}
                options={DAYS.map((value) => ({ value, label: `The link works for ${value} days` }))}
                onChange={(days) => set({ days })}
            />
            {!experiment && (
                <Choice
                    label="Flicker guard"
                    value={draft.guard}
                    options={[
                        { value: '', label: 'Without a flicker guard' },
                        ...guards.map((one) => ({
                            value: String(one.milliseconds),
                            label: `With a guard of ${one.milliseconds / 1000} s`,
                        })),
                    ]}
                    onChange={(guard) => set({ guard })}
                />
            )}
            <FormFoot form={form} inFlow submit="Make the brief" />
        </form>
    );
}

function One({ brief }: { brief: Brief }) {
    const revoke = useRevokeBrief(useSiteKey());
    const [asked, setAsked] = useState(false);
    const [copied, setCopied] = useState('');
    const copy = (): void => {
        navigator.clipboard.writeText(brief.address ?? '').then(
            () => setCopied('Copied'),
            () => setCopied('The browser did not allow it: select the link and copy it yourself'),
        );
    };

    return (
        <article className="mb-3 border border-line bg-leaf px-4 py-2">
            <header className="flex flex-wrap items-baseline gap-x-4">
                <h2 className="font-semibold">{brief.recipient}</h2>
                <span className="text-sm text-soft">
                    {brief.about &&
                        `“${brief.about.variant}” of ${brief.about.name}: ${brief.about.taken} of ${brief.about.known} pages show it themselves; `}
                    made <Moment at={brief.created_at} /> by {brief.author}; read {brief.read_at ? <Moment at={brief.read_at} /> : 'never'}
                </span>
            </header>
            {brief.address ? (
                <>
                    <p className="my-1 font-mono text-sm break-all">
                        <a href={brief.address} target="_blank" rel="noreferrer" className="text-accent underline underline-offset-4">
                            {brief.address}
                        </a>
                    </p>
                    <div className="flex flex-wrap items-center gap-3">
                        <Button onClick={copy}>Copy the link</Button>
                        <Button look="danger" onClick={() => setAsked(true)}>
                            Take it back
                        </Button>
                        <span className="text-sm text-soft">
                            works until <Moment at={brief.expires_at} />
                        </span>
                        <span role="status">{copied}</span>
                    </div>
                </>
            ) : (
                <p>
                    {brief.revoked_at ? (
                        <>
                            Taken back <Moment at={brief.revoked_at} />.
                        </>
                    ) : (
                        <>
                            Ended <Moment at={brief.expires_at} />.
                        </>
                    )}
                </p>
            )}
            <Question
                open={asked}
                title={`Take the link for ${brief.recipient} back?`}
                yes="Take it back"
                danger
                busy={revoke.isPending}
                onYes={() => revoke.mutate(brief.id, { onSuccess: () => setAsked(false) })}
                onNo={() => setAsked(false)}
            >
                <p>Whoever opens it from now on reads that it does not work.</p>
            </Question>
        </article>
    );
}

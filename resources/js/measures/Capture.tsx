import { useState, type FormEvent } from 'react';
import { Problem, type Schemas } from '../api/client';
import { useCapture, useSaveCapture } from '../api/measures';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { Tick } from '../parts/RuleBuilder';
import { Waiting } from '../parts/Waiting';
import { MeasuresTabs } from './MeasuresTabs';

type Settings = Schemas['Capture'];

/** What the pages of the site send, and under which conditions. */
export function Capture() {
    const capture = useCapture(useSiteKey());

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <Waiting query={capture}>{(known) => <Form known={known} />}</Waiting>
        </div>
    );
}

function Form({ known }: { known: Settings }) {
    const save = useSaveCapture(useSiteKey());
    const [draft, setDraft] = useState(known);
    const [mappings, setMappings] = useState(
        known.data_events.map((one) => ({
            ...one,
            text: Object.entries(one.props)
                .map((pair) => pair.join(' = '))
                .join('\n'),
        })),
    );
    const problem = save.error instanceof Problem ? save.error : null;
    const error = (field: string): string | undefined => problem?.errors[field]?.[0];
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate({
            ...draft,
            data_layer: draft.data_layer || null,
            data_events: mappings.map(({ push, name, text }) => ({ push, name, props: propsOf(text) })),
        });
    };
    const map = (at: number, change: Partial<(typeof mappings)[number]>): void =>
        setMappings(mappings.map((one, i) => (i === at ? { ...one, ...change } : one)));

    return (
        <form onSubmit={submit} noValidate className="max-w-4xl space-y-5">
            <h1 className="text-xl font-semibold">What is captured</h1>
            <p>
                Page views with every change of the address, clicks, forms that are sent (never what is in them), how far a page is
                scrolled, and how long somebody is busy with it are captured on every page that carries the snippet. What looks like an
                e-mail address, a card number or a phone number is masked before it is sent. Events of your own:{' '}
                <code className="font-mono text-sm">pellix('event', 'brochure_opened', {'{ pages: 4 }'})</code>; orders:{' '}
                <code className="font-mono text-sm">pellix('order', {"{ order_id: 'G-1', value: 24.5, currency: 'EUR' }"})</code>; a known
                user: <code className="font-mono text-sm">pellix('user', 'u-17')</code>.
            </p>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Consent</h2>
                <div className="w-96 max-w-full">
                    <Choice
                        label="Consent"
                        value={draft.consent_mode}
                        options={[
                            { value: 'none', label: 'Capture without asking' },
                            { value: 'ask', label: 'Keep and send nothing before the visitor agrees' },
                        ]}
                        onChange={(consent_mode) => setDraft({ ...draft, consent_mode })}
                    />
                </div>
                {draft.consent_mode === 'ask' && (
                    <p>
                        Your consent tool calls <code className="font-mono text-sm">pellix('consent', ['statistics', 'marketing'])</code>{' '}
                        with what the visitor agreed to, or <code className="font-mono text-sm">pellix('consent', [])</code>.
                    </p>
                )}
                <Tick
                    label="Global Privacy Control of the browser counts as a refusal"
                    on={draft.honour_gpc}
                    onChange={() => setDraft({ ...draft, honour_gpc: !draft.honour_gpc })}
                />
            </section>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Sessions</h2>
                <TextField
                    label="Idle minutes that end a session"
                    note="30 is common practice. Goals that count once a session are counted anew."
                    inputMode="numeric"
                    className="max-w-24"
                    value={String(draft.session_minutes || '')}
                    error={error('session_minutes')}
                    onChange={(e) => setDraft({ ...draft, session_minutes: Number(e.target.value.replace(/\D/g, '')) })}
                />
            </section>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Data layer</h2>
                <TextField
                    label="Name of the array on window"
                    note="Empty where the site has none."
                    className="max-w-64 font-mono text-sm"
                    value={draft.data_layer ?? ''}
                    error={error('data_layer')}
                    onChange={(e) => setDraft({ ...draft, data_layer: e.target.value })}
                />
                {mappings.map((one, i) => (
                    <div key={i} className="grid gap-2 border-l-3 border-line pl-3 sm:grid-cols-[1fr_1fr_1.4fr_auto] sm:items-end">
                        <TextField
                            label={`Push ${i + 1}: its event`}
                            className="font-mono text-sm"
                            value={one.push}
                            error={error(`data_events.${i}.push`)}
                            onChange={(e) => map(i, { push: e.target.value })}
                        />
                        <TextField
                            label="becomes the event"
                            className="font-mono text-sm"
                            value={one.name}
                            error={error(`data_events.${i}.name`)}
                            onChange={(e) => map(i, { name: e.target.value })}
                        />
                        <label className="block">
                            <span className="mb-0.5 block font-semibold">with (property = path)</span>
                            <textarea
                                className="w-full rounded-xs border border-[#8b8f96] bg-leaf px-2 py-1 font-mono text-sm"
                                rows={2}
                                value={one.text}
                                onChange={(e) => map(i, { text: e.target.value })}
                            />
                            {error(`data_events.${i}.props`) && (
                                <span className="text-sm text-broken">{error(`data_events.${i}.props`)}</span>
                            )}
                        </label>
                        <Button onClick={() => setMappings(mappings.filter((_, j) => j !== i))}>Remove</Button>
                    </div>
                ))}
                <Button onClick={() => setMappings([...mappings, { push: '', name: '', props: {}, text: '' }])}>Add a mapping</Button>
            </section>
            <div className="flex flex-wrap items-center gap-4 border-t border-line py-3">
                <Button type="submit" look="main" disabled={save.isPending}>
                    Keep and publish
                </Button>
                <span role="status">{save.isSuccess && 'Published. Visitors get it with their next page view.'}</span>
                {problem && (
                    <span role="alert" className="text-broken">
                        {Object.values(problem.errors)[0]?.[0] ?? problem.message}
                    </span>
                )}
            </div>
        </form>
    );
}

function propsOf(text: string): Record<string, string> {
    const pairs = text
        .split('\n')
        .map((line) => line.split('=').map((part) => part.trim()))
        .filter(([name]) => name);

    return Object.fromEntries(pairs.map(([name, path]) => [name, path ?? '']));
}

import type { FormEvent } from 'react';
import type { Schemas } from '../api/client';
import { useCapture, useSaveCapture } from '../api/measures';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Tick } from '../parts/RuleBuilder';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { Since } from '../sites/Since';
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

type Draft = Omit<Settings, 'data_events'> & { mappings: { push: string; name: string; text: string }[]; parameters: string };

function draftOf({ data_events, ...known }: Settings): Draft {
    return {
        ...known,
        parameters: (known.page_parameters ?? []).join(', '),
        mappings: data_events.map(({ push, name, props }) => ({
            push,
            name,
            text: Object.entries(props)
                .map((pair) => pair.join(' = '))
                .join('\n'),
        })),
    };
}

function requestOf({ mappings, parameters, ...draft }: Draft): Settings {
    return {
        ...draft,
        data_layer: draft.data_layer || null,
        page_parameters: parameters
            .split(',')
            .map((one) => one.trim())
            .filter(Boolean),
        data_events: mappings.map(({ push, name, text }) => ({ push, name, props: propsOf(text) })),
    };
}

function Form({ known }: { known: Settings }) {
    const save = useSaveCapture(useSiteKey());
    const form = useDraft(() => draftOf(known), save, requestOf);
    const { draft, errors, set } = form;
    const { mappings } = draft;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(requestOf(draft), { onSuccess: () => form.kept() });
    };
    const map = (at: number, change: Partial<Draft['mappings'][number]>): void =>
        set({ mappings: mappings.map((one, i) => (i === at ? { ...one, ...change } : one)) });

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
                        onChange={(consent_mode) => set({ consent_mode })}
                    />
                    <Since of="consent_mode" />
                </div>
                {draft.consent_mode === 'ask' && (
                    <p>
                        Your consent tool calls <code className="font-mono text-sm">pellix('consent', ['statistics', 'marketing'])</code>{' '}
                        with what the visitor agreed to, or <code className="font-mono text-sm">pellix('consent', [])</code>.
                    </p>
                )}
                <div>
                    <Tick
                        label="Global Privacy Control of the browser counts as a refusal"
                        on={draft.honour_gpc}
                        onChange={() => set({ honour_gpc: !draft.honour_gpc })}
                    />
                    <Since of="honour_gpc" />
                </div>
            </section>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Sessions</h2>
                <TextField
                    label="Idle minutes that end a session"
                    note={
                        <>
                            30 is common practice. Goals that count once a session are counted anew. <Since of="session_minutes" />
                        </>
                    }
                    inputMode="numeric"
                    className="max-w-24"
                    value={String(draft.session_minutes || '')}
                    error={errors.session_minutes}
                    onChange={(e) => set({ session_minutes: Number(e.target.value.replace(/\D/g, '')) })}
                />
            </section>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Data layer</h2>
                <TextField
                    label="Name of the array on window"
                    note={
                        <>
                            Empty where the site has none. <Since of="data_layer" />
                        </>
                    }
                    className="max-w-64 font-mono text-sm"
                    value={draft.data_layer ?? ''}
                    error={errors.data_layer}
                    onChange={(e) => set({ data_layer: e.target.value })}
                />
                {mappings.map((one, i) => (
                    <div key={i} className="grid gap-2 border-l-3 border-line pl-3 sm:grid-cols-[1fr_1fr_1.4fr_auto] sm:items-end">
                        <TextField
                            label={`Push ${i + 1}: its event`}
                            className="font-mono text-sm"
                            value={one.push}
                            error={errors[`data_events.${i}.push`]}
                            onChange={(e) => map(i, { push: e.target.value })}
                        />
                        <TextField
                            label="becomes the event"
                            className="font-mono text-sm"
                            value={one.name}
                            error={errors[`data_events.${i}.name`]}
                            onChange={(e) => map(i, { name: e.target.value })}
                        />
                        <TextArea
                            label="with (property = path)"
                            className="font-mono text-sm"
                            value={one.text}
                            error={errors[`data_events.${i}.props`]}
                            onChange={(e) => map(i, { text: e.target.value })}
                        />
                        <Button onClick={() => set({ mappings: mappings.filter((_, j) => j !== i) })}>Remove</Button>
                    </div>
                ))}
                <Button onClick={() => set({ mappings: [...mappings, { push: '', name: '', text: '' }] })}>Add a mapping</Button>
            </section>
            <section className="space-y-3 border-t border-line pt-3">
                <h2 className="font-semibold">Pages</h2>
                <TextField
                    label="Query parameters that tell one page from another"
                    note={
                        <>
                            Separated by commas. Addresses that differ in any other parameter are one page in coverage and in the figures.{' '}
                            <Since of="page_parameters" />
                        </>
                    }
                    className="font-mono text-sm"
                    placeholder="id, lang"
                    value={draft.parameters}
                    error={errors.page_parameters ?? Object.entries(errors).find(([field]) => field.startsWith('page_parameters.'))?.[1]}
                    onChange={(e) => set({ parameters: e.target.value })}
                />
            </section>
            <FormFoot form={form} inFlow submit="Keep and publish" saved="Published. Visitors get it with their next page view." />
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

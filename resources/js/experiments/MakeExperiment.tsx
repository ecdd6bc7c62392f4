import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import type { Site } from '../api/client';
import { useSaveExperiment, useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { asPathRule } from '../parts/rules';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { ChangeFields } from './ChangeFields';
import { emptyDraft, mistakes, requestOf, type Draft } from './draft';
import { PathField } from './PathField';
import { readExperiment } from './experimentFile';

/** Asks for a name, a page and a first change, and opens the draft: everything else is written on its chain. */
export function MakeExperiment() {
    const site = useSite(useSiteKey());

    return <Waiting query={site}>{(known) => <Form site={known} />}</Waiting>;
}

function Form({ site }: { site: Site }) {
    const save = useSaveExperiment(site.key);
    const navigate = useNavigate();
    const form = useDraft<Draft>(emptyDraft, save, requestOf);
    const { draft, errors, set } = form;
    const [control, first] = draft.variants;
    const path = asPathRule(draft.pages);
    const isRedirect = draft.kind === 'redirect';
    const open = (key: string): void => {
        void navigate(address.experiment(site.key, key));
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (form.check(mistakes(draft))) {
            save.mutate(requestOf(draft), {
                onSuccess: (made) => {
                    form.kept();
                    open(made.key);
                },
            });
        }
    };
    const put = (next: Partial<typeof first>): void => set({ variants: [control, { ...first, ...next }] });

    return (
        <form onSubmit={submit} noValidate className="mx-auto max-w-3xl space-y-4 px-5 py-4">
            {/* As high as it may become: what is said at a field moves no button from under a pointer. */}
            <div className="min-h-[32rem] space-y-4">
                <h1 className="text-xl font-semibold">Make an experiment</h1>
                <TextField
                    label="Name"
                    value={draft.name}
                    error={errors.name ?? errors.key}
                    maxLength={120}
                    autoFocus
                    onChange={(event) => set({ name: event.target.value })}
                />
                <PathField
                    label="Path"
                    hosts={site.hosts}
                    op={path?.op ?? 'is'}
                    path={path?.value ?? ''}
                    error={errors['pages.value'] ?? errors.pages}
                    onChange={(op, value) => set({ pages: { fact: 'url.path', op, value } })}
                />
                <div className="w-80">
                    <Choice
                        label="Kind"
                        value={draft.kind}
                        options={[
                            { value: 'in_page', label: 'changes something on the page' },
                            { value: 'redirect', label: 'sends visitors to another page' },
                        ]}
                        onChange={(kind) => set({ kind })}
                    />
                </div>
                <section aria-label="First change" className="border border-line bg-leaf p-3">
                    <h2 className="font-semibold">What the first variant does</h2>
                    {isRedirect ? (
                        <TextField
                            label="Variant 1: leads to"
                            className="font-mono text-sm"
                            placeholder="/loan-new"
                            value={first.target}
                            error={errors['variants.1.target']}
                            onChange={(event) => put({ target: event.target.value })}
                        />
                    ) : (
                        <ChangeFields
                            change={first.changes[0]}
                            name="Variant 1, change 1"
                            at="variants.1.changes.0"
                            errors={errors}
                            onChange={(change) => put({ changes: [change] })}
                        />
                    )}
                </section>
                <p className="text-sm text-soft">
                    More variants and changes, who enters, and what counts are written on the experiment’s own chain, where they will be
                    read later.
                </p>
            </div>
            <FormFoot form={form} submit="Make the draft" onCancel={() => navigate(address.bench(site.key))}>
                <FromFile
                    site={site.key}
                    onMade={(key) => {
                        form.kept();
                        open(key);
                    }}
                />
            </FormFoot>
        </form>
    );
}

/** A draft from an experiment file. */
function FromFile({ site, onMade }: { site: string; onMade: (key: string) => void }) {
    const save = useSaveExperiment(site);
    const [wrong, setWrong] = useState('');
    const read = async (file: File | undefined): Promise<void> => {
        setWrong('');
        if (!file) {
            return;
        }
        try {
            const body = readExperiment(await file.text());
            const made = await save.mutateAsync(body);
            onMade(made.key);
        } catch (error) {
            const errors = (error as { errors?: Record<string, string[]> }).errors ?? {};
            const [field] = Object.keys(errors);
            setWrong(field ? `${field}: ${errors[field][0]}` : (error as Error).message);
        }
    };

    return (
        <>
            <label className="cursor-pointer text-accent underline underline-offset-4 focus-within:outline-2 focus-within:outline-accent">
                From an experiment file…
                <input
                    type="file"
                    accept="application/json,.json"
                    className="sr-only"
                    onChange={(event) => {
                        void read(event.target.files?.[0]);
                        event.target.value = '';
                    }}
                />
            </label>
            {wrong && (
                <span role="alert" className="text-broken">
                    {wrong}
                </span>
            )}
        </>
    );
}

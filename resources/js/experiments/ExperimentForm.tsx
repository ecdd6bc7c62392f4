import type { FormEvent, ReactNode } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Site } from '../api/client';
import { useExperiment, useExperiments, useSaveExperiment, useSite } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { TextArea, TextField } from '../parts/Field';
import { asPathRule } from '../parts/rules';
import { FormFoot } from '../parts/FormFoot';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { draftOf, emptyDraft, mistakes, nextGoal, nextVariant, parts, requestOf, type Draft } from './draft';
import { Choice } from '../parts/Choice';
import { newTrigger } from '../wiring/tagWords';
import { TriggerFields } from '../wiring/TriggerFields';
import { followed, Traffic } from './Traffic';
import { GoalFields } from './GoalFields';
import { AudienceField } from './AudienceField';
import { PagesField } from './PagesField';
import { VariantFields } from './VariantFields';

/** Makes an experiment, or changes a draft. */
export function ExperimentForm() {
    const site = useSite(useSiteKey());
    const key = useParams().experiment;

    return (
        <Waiting query={site}>
            {(known) => (key ? <Existing site={known} experiment={key} /> : <Form site={known} begin={emptyDraft()} />)}
        </Waiting>
    );
}

function Existing({ site, experiment }: { site: Site; experiment: string }) {
    const query = useExperiment(site.key, experiment);

    return (
        <Waiting query={query}>
            {(known) =>
                known.state === 'draft' ? (
                    <Form site={site} begin={draftOf(known)} experiment={known.key} />
                ) : (
                    <p className="p-6">Only a draft can be changed; this experiment is {known.state}.</p>
                )
            }
        </Waiting>
    );
}

function Form({ site, begin, experiment }: { site: Site; begin: Draft; experiment?: string }) {
    const save = useSaveExperiment(site.key, experiment);
    const form = useDraft(begin, save, requestOf);
    const { draft, errors, set } = form;
    const navigate = useNavigate();
    const back = experiment ? address.experiment(site.key, experiment) : address.bench(site.key);
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (form.check(mistakes(draft))) {
            save.mutate(requestOf(draft), {
                onSuccess: (made) => {
                    form.kept();
                    navigate(address.experiment(site.key, made.key));
                },
            });
        }
    };
    const share = parts(draft.variants);
    const known = useExperiments(site.key).data ?? [];
    const groups = [...new Set(known.flatMap((one) => one.group?.key ?? []))].sort();

    return (
        <form onSubmit={submit} noValidate className="mx-auto max-w-5xl px-5 py-4">
            <h1 className="text-xl font-semibold">{experiment ? `Change ${begin.name}` : 'Make an experiment'}</h1>
            <Part title="What" note="What you change, and why you expect it to matter.">
                <TextField
                    label="Name"
                    value={draft.name}
                    error={errors.name ?? errors.key}
                    maxLength={120}
                    autoFocus
                    onChange={(e) => set({ name: e.target.value })}
                />
                <TextArea
                    label="Hypothesis"
                    value={draft.hypothesis}
                    error={errors.hypothesis}
                    maxLength={2000}
                    onChange={(e) => set({ hypothesis: e.target.value })}
                />
            </Part>
            <Part title="Page" note="Visitors of these pages are eligible.">
                <PagesField site={site} pages={draft.pages} errors={errors} onChange={(pages) => set({ pages })} />
            </Part>
            <Part title="Entry" note="The part of eligible visitors that takes part. The others see the page as it is and are not counted.">
                <AudienceField site={site} audience={draft.audience} errors={errors} onChange={(audience) => set({ audience })} />
                <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
                    <TextField
                        label="Share in percent"
                        inputMode="decimal"
                        className="max-w-28"
                        value={draft.share}
                        error={errors.share}
                        onChange={(e) => set({ share: e.target.value })}
                    />
                    <div className="w-64 pt-[1.58rem]">
                        <Choice
                            label="What is assigned"
                            value={draft.unit}
                            options={[
                                { value: 'visitor', label: 'each visitor' },
                                { value: 'user', label: 'each signed-in user' },
                            ]}
                            onChange={(unit) => set({ unit })}
                        />
                    </div>
                    <TextField
                        label="Days that a variant is kept"
                        inputMode="numeric"
                        className="max-w-28"
                        value={draft.lifetime}
                        error={errors.lifetime_days}
                        onChange={(e) => set({ lifetime: e.target.value })}
                    />
                    <TextField
                        label="Group"
                        placeholder="none"
                        className="max-w-44"
                        value={draft.group}
                        error={errors['group.key'] ?? errors.group}
                        onChange={(e) => set({ group: e.target.value })}
                    />
                </div>
                {draft.group && (
                    <p className="text-sm text-soft">
                        Nobody is in two experiments of one group: each has its own part of all visitors, as large as its share.
                        {groups.length > 0 && ` Groups of this site: ${groups.join(', ')}.`}
                    </p>
                )}
                {draft.unit === 'user' && (
                    <p className="text-sm text-soft">
                        Whoever has not signed in is not in the experiment: the site names users with pellix('user', id), and what happens
                        before that is not counted.
                    </p>
                )}
            </Part>
            <Part
                title="Start"
                note="When a visitor of the page comes in. For pages whose element appears after a step, let that step start it."
            >
                <div className="w-72">
                    <Choice
                        label="Starts"
                        value={!draft.trigger ? 'view' : draft.trigger.kind === 'element' ? 'element' : 'trigger'}
                        options={[
                            { value: 'view', label: 'as soon as the page is opened' },
                            { value: 'element', label: 'wherever an element is' },
                            { value: 'trigger', label: 'when something happens on it' },
                        ]}
                        onChange={(start) => set(startOf(start, draft.pages))}
                    />
                </div>
                {draft.trigger && (
                    <TriggerFields
                        trigger={draft.trigger}
                        number={1}
                        hosts={site.hosts}
                        errors={errors}
                        path="trigger"
                        onChange={(trigger) => set({ trigger })}
                    />
                )}
            </Part>
            <Part
                title="Variants"
                note="The control shows the page as it is. Weights are proportions; 40, 40 and 20 make two fifths, two fifths and one fifth."
            >
                {errors.variants && (
                    <p role="alert" className="text-broken">
                        {errors.variants}
                    </p>
                )}
                <Traffic draft={draft} set={set} />
                {draft.variants.map((variant, i) => (
                    <VariantFields
                        key={variant.key}
                        index={i}
                        variant={variant}
                        part={share?.[i] ?? null}
                        errors={errors}
                        onChange={(next) => set({ variants: followed(draft.variants, i, next) })}
                        onRemove={
                            !variant.control && draft.variants.length > 2
                                ? () => set({ variants: draft.variants.filter((_, j) => j !== i) })
                                : undefined
                        }
                        onControl={() => set({ variants: draft.variants.map((one, j) => ({ ...one, control: j === i })) })}
                    />
                ))}
                <Button onClick={() => set({ variants: [...draft.variants, nextVariant(draft.variants)] })}>Add a variant</Button>
            </Part>
            <Part title="Goals" note="What counts, at or after the first exposure. The first one decides.">
                {draft.goals.map((goal, i) => (
                    <GoalFields
                        key={i}
                        number={i}
                        goal={goal}
                        hosts={site.hosts}
                        errors={errors}
                        onChange={(next) => set({ goals: draft.goals.map((one, j) => (j === i ? next : one)) })}
                        onRemove={draft.goals.length > 1 ? () => set({ goals: draft.goals.filter((_, j) => j !== i) }) : undefined}
                    />
                ))}
                <Button onClick={() => set({ goals: [...draft.goals, nextGoal('secondary')] })}>Add a goal</Button>
            </Part>
            <FormFoot form={form} submit={experiment ? 'Keep the changes' : 'Make the draft'} onCancel={() => navigate(back)} />
        </form>
    );
}

/** An element that is on many pages, such as a menu, starts an experiment on any of them, where no page is named. */
function startOf(start: 'view' | 'element' | 'trigger', pages: Draft['pages']): Partial<Draft> {
    if (start === 'view') {
        return { trigger: null };
    }

    return start === 'trigger'
        ? { trigger: newTrigger('event') }
        : { trigger: newTrigger('element'), ...(asPathRule(pages)?.value === '' ? { pages: { all: [] } } : {}) };
}

function Part({ title, note, children }: { title: string; note: string; children: ReactNode }) {
    return (
        <fieldset className="mt-4 grid gap-x-8 gap-y-2 border-t border-line pt-3 md:grid-cols-[14rem_1fr]">
            <legend className="sr-only">{title}</legend>
            <div>
                <h2 className="font-semibold">{title}</h2>
                <p className="text-sm text-soft">{note}</p>
            </div>
            <div className="min-w-0 space-y-3">{children}</div>
        </fieldset>
    );
}

import { useEffect, useState, type FormEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { Problem, type Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useDeleteGoal, useGoal, useSaveGoal, useTrial } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { fieldErrors } from '../parts/fieldErrors';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { COUNTS, fieldsOf, goalInWords, KINDS, type GoalDraft, type GoalKind } from './goalWords';
import { MeasuresTabs } from './MeasuresTabs';
import { StepFields } from './StepFields';
import { StepList } from './StepList';
import { TrialView } from './TrialView';

type Kept = Schemas['KeptGoal'];

const PAUSE = 450;

/** Defines or changes a goal, with what it would have counted beside it. */
export function GoalPage() {
    const { goal = 'new' } = useParams();
    const kept = useGoal(useSiteKey(), goal);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            {goal === 'new' ? <Form /> : <Waiting query={kept}>{(known) => <Form key={goal} kept={known} />}</Waiting>}
        </div>
    );
}

function Form({ kept }: { kept?: Kept }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const hosts = useSite(site).data?.hosts ?? [];
    const currency = useSite(site).data?.currency;
    const save = useSaveGoal(site, kept?.goal.key);
    const { begin, run } = useTrial(site);
    const form = useDraft<GoalDraft>(
        kept ? { ...kept.goal, kind: kept.goal.kind ?? 'page' } : { name: '', ...fieldsOf('page', { count: 'visitor' }), kind: 'page' },
        save,
    );
    const { draft, set } = form;
    const asked = JSON.stringify({ ...draft, name: undefined, key: undefined, role: undefined });
    const [first] = useState(asked);
    // What the trial found to be wrong stands at its field as well, once somebody wrote what counts.
    const tried = asked !== first && begin.error instanceof Problem && begin.error.status === 422 ? fieldErrors(begin.error) : {};
    const errors = { ...tried, ...form.errors };
    const { mutate: attempt } = begin;
    useEffect(() => {
        // Not with every letter: what is being written is tried when the writing pauses.
        const timer = window.setTimeout(() => attempt(JSON.parse(asked) as GoalDraft), PAUSE);

        return () => window.clearTimeout(timer);
    }, [asked, attempt]);
    const [former, setFormer] = useState<string[]>([]);
    const running = (kept?.experiments ?? []).filter(({ state }) => state === 'running' || state === 'paused');
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate({ ...draft, ...(former.length > 0 ? { keep_former: former } : {}) } as GoalDraft, {
            onSuccess: () => {
                form.kept();
                navigate(address.goals(site));
            },
        });
    };
    const valueKind = draft.value?.fixed !== undefined ? 'fixed' : draft.value?.prop !== undefined ? 'prop' : 'none';

    return (
        <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)]">
            <form onSubmit={submit} noValidate className="min-w-0 space-y-4">
                <h1 className="text-xl font-semibold">{kept ? `Change ${kept.goal.name}` : 'Define a goal'}</h1>
                <TextField
                    label="Goal name"
                    value={draft.name ?? ''}
                    error={errors.name ?? errors.key}
                    maxLength={120}
                    onChange={(e) => set({ name: e.target.value })}
                />
                <div className="grid gap-3 sm:grid-cols-2">
                    <Choice<GoalKind>
                        label="What counts"
                        value={draft.kind}
                        options={Object.entries(KINDS).map(([value, label]) => ({ value: value as GoalKind, label }))}
                        onChange={(kind) => form.put({ name: draft.name, key: draft.key, ...fieldsOf(kind, draft), kind })}
                    />
                    <Choice
                        label="How often"
                        value={draft.count ?? 'every'}
                        options={Object.entries(COUNTS).map(([value, label]) => ({
                            value: value as keyof typeof COUNTS,
                            label: `counts ${label}`,
                        }))}
                        onChange={(count) => set({ count })}
                    />
                </div>
                {draft.kind === 'steps' ? (
                    <StepList
                        steps={draft.steps ?? []}
                        within={draft.within}
                        hosts={hosts}
                        errors={errors}
                        onChange={(steps, within) => set({ steps, within })}
                    />
                ) : (
                    <StepFields
                        step={{ ...draft, kind: draft.kind }}
                        hosts={hosts}
                        errors={errors}
                        path=""
                        onChange={(step) => set(step)}
                    />
                )}
                <div className="grid gap-3 sm:grid-cols-3">
                    {draft.kind !== 'order' && (
                        <Choice
                            label="Value"
                            value={valueKind}
                            options={[
                                { value: 'none', label: 'has no value' },
                                { value: 'fixed', label: 'always worth the same' },
                                { value: 'prop', label: 'worth a property' },
                            ]}
                            onChange={(kind) =>
                                set({
                                    value: kind === 'fixed' ? { fixed: 1 } : kind === 'prop' ? { prop: 'value' } : undefined,
                                    currency: kind === 'none' ? undefined : (draft.currency ?? currency),
                                })
                            }
                        />
                    )}
                    {valueKind === 'fixed' && (
                        <Fixed
                            value={draft.value?.fixed ?? 0}
                            error={errors['value.fixed']}
                            onChange={(fixed) => set({ value: { fixed } })}
                        />
                    )}
                    {valueKind === 'prop' && (
                        <TextField
                            label="Property with the value"
                            className="font-mono text-sm"
                            value={draft.value?.prop ?? ''}
                            error={errors['value.prop']}
                            onChange={(e) => set({ value: { prop: e.target.value } })}
                        />
                    )}
                    {(valueKind !== 'none' || draft.kind === 'order') && (
                        <TextField
                            label="Currency"
                            className="max-w-24 font-mono text-sm"
                            value={draft.currency ?? ''}
                            placeholder={currency}
                            error={errors.currency}
                            onChange={(e) => set({ currency: e.target.value.toUpperCase() || undefined })}
                        />
                    )}
                </div>
                {kept && kept.experiments.length > 0 && (
                    <p className="border-l-3 border-doubt pl-3">
                        {kept.experiments.map((one) => one.name).join(', ')} use this goal. A change makes revision {kept.revision + 1};
                        from when on it counts like that is kept.
                    </p>
                )}
                {running.length > 0 && (
                    <fieldset className="border-l-3 border-doubt pl-3">
                        <legend className="sr-only">Experiments that run with it</legend>
                        <p>
                            It counts in {running.length === 1 ? 'an experiment' : `${running.length} experiments`} that{' '}
                            {running.length === 1 ? 'has' : 'have'} started. Taken over, it is counted anew there from the first exposure
                            on.
                        </p>
                        {running.map(({ key, name }) => (
                            <div key={key} className="mt-1 flex flex-wrap items-center gap-2">
                                <span className="font-semibold">{name}</span>
                                <div className="w-72">
                                    <Choice
                                        label={`What ${name} does`}
                                        value={former.includes(key) ? 'former' : 'over'}
                                        options={[
                                            { value: 'over', label: 'takes the change over' },
                                            { value: 'former', label: 'goes on with what it was' },
                                        ]}
                                        onChange={(what) =>
                                            setFormer(what === 'former' ? [...former, key] : former.filter((one) => one !== key))
                                        }
                                    />
                                </div>
                            </div>
                        ))}
                    </fieldset>
                )}
                <FormFoot form={form} submit={kept ? 'Keep the changes' : 'Keep the goal'} onCancel={() => navigate(address.goals(site))}>
                    {kept && (
                        <Delete
                            goal={kept.goal.key}
                            name={kept.goal.name}
                            onDone={() => {
                                form.kept();
                                navigate(address.goals(site));
                            }}
                        />
                    )}
                </FormFoot>
                {kept && <Revisions kept={kept} />}
            </form>
            <TrialView
                run={run.data}
                pending={begin.isPending || run.isFetching || run.data?.state === 'running'}
                wrong={begin.isError ? (Object.values(fieldErrors(begin.error))[0] ?? begin.error.message) : run.error?.message}
            />
        </div>
    );
}

function Fixed({ value, error, onChange }: { value: number; error?: string; onChange: (value: number) => void }) {
    const [text, setText] = useState(String(value));
    const number = text.trim() === '' ? NaN : Number(text.replace(',', '.'));
    // A number that came from elsewhere, as when a change is taken back, is shown as it is.
    const shown = Number.isNaN(number) || number === value ? text : String(value);

    return (
        <TextField
            label="Worth"
            inputMode="decimal"
            value={shown}
            error={error}
            onChange={(event) => {
                setText(event.target.value);
                const number = Number(event.target.value.replace(',', '.'));
                if (event.target.value.trim() !== '' && Number.isFinite(number)) {
                    onChange(number);
                }
            }}
        />
    );
}

function Delete({ goal, name, onDone }: { goal: string; name: string; onDone: () => void }) {
    const remove = useDeleteGoal(useSiteKey(), goal);
    const [asked, setAsked] = useState(false);

    return (
        <>
            <Button look="danger" onClick={() => setAsked(true)}>
                Delete
            </Button>
            <Question
                open={asked}
                title={`Delete “${name}”?`}
                yes="Delete it"
                danger
                busy={remove.isPending}
                error={remove.error?.message}
                onYes={() => remove.mutate(undefined, { onSuccess: onDone })}
                onNo={() => {
                    setAsked(false);
                    remove.reset();
                }}
            >
                <p>Its hits and revisions are deleted with it. The events stay.</p>
            </Question>
        </>
    );
}

function Revisions({ kept }: { kept: Kept }) {
    return (
        <section aria-label="Revisions">
            <h2 className="font-semibold">Revisions</h2>
            <ul className="text-sm">
                {kept.revisions.map((one) => (
                    <li key={one.revision} className="border-b border-line py-1 last:border-0">
                        {one.revision}, from <Moment at={one.from} /> by {one.author}: {goalInWords(one.definition)}
                    </li>
                ))}
            </ul>
        </section>
    );
}

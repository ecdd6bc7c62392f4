import type { FormEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Schemas } from '../api/client';
import { useEvent, useSavePlan, useUnplan } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { useDraft } from '../parts/useDraft';
import { count, percent } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Tick } from '../parts/RuleBuilder';
import { Waiting } from '../parts/Waiting';
import { MeasuresTabs } from './MeasuresTabs';

type Page = Schemas['EventPage'];
type Property = { name: string; type: string; required: boolean; description: string; rest: Record<string, unknown> };

const TYPES = ['string', 'number', 'integer', 'boolean', 'object', 'array', ''];
const VERDICTS: Record<string, string> = {
    conforms: 'kept to it',
    lacks: 'lacked a property',
    'wrong-type': 'had a wrong type or value',
    unplanned: 'were not planned',
};

/** One event: what is planned on the left, what came on the right. */
export function EventPage() {
    const { event: name = '' } = useParams();
    const event = useEvent(useSiteKey(), name);

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <MeasuresTabs />
            <h1 className="mb-3 font-mono text-lg font-semibold">{name}</h1>
            <Waiting query={event}>
                {(known) => (
                    <div className="grid gap-x-8 gap-y-6 lg:grid-cols-2">
                        <Planned key={known.name} page={known} />
                        <Seen page={known} />
                    </div>
                )}
            </Waiting>
        </div>
    );
}

function propertiesOf(plan: Page['plan']): Property[] {
    const properties = (plan?.schema.properties ?? {}) as Record<string, Record<string, unknown>>;
    const required = (plan?.schema.required ?? []) as string[];

    return Object.entries(properties).map(([name, { type, description, ...rest }]) => ({
        name,
        type: typeof type === 'string' ? type : '',
        required: required.includes(name),
        description: typeof description === 'string' ? description : '',
        rest,
    }));
}

interface Draft {
    meaning: string;
    sent_from: string;
    properties: Property[];
    example: string;
}

function draftOf(plan: Page['plan']): Draft {
    return {
        meaning: plan?.meaning ?? '',
        sent_from: plan?.sent_from ?? '',
        properties: propertiesOf(plan),
        example: plan?.examples[0] ? JSON.stringify(plan.examples[0]) : '',
    };
}

/** Null where the text is no JSON object. */
function exampleOf(text: string): Record<string, unknown>[] | null {
    try {
        return text.trim() ? [JSON.parse(text) as Record<string, unknown>] : [];
    } catch {
        return null;
    }
}

function requestOf(draft: Draft, plan: Page['plan']) {
    const named = draft.properties.filter((one) => one.name.trim() !== '');

    return {
        meaning: draft.meaning,
        sent_from: draft.sent_from,
        schema: {
            ...plan?.schema,
            type: 'object',
            properties: Object.fromEntries(
                named.map(({ name, type, description, rest }) => [
                    name,
                    { ...rest, ...(type ? { type } : {}), ...(description ? { description } : {}) },
                ]),
            ),
            required: named.filter((one) => one.required).map((one) => one.name),
        },
        examples: exampleOf(draft.example) ?? [],
    };
}

function Planned({ page }: { page: Page }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const save = useSavePlan(site, page.name);
    const remove = useUnplan(site, page.name);
    const form = useDraft(
        () => draftOf(page.plan),
        save,
        (draft) => requestOf(draft, page.plan),
    );
    const { draft, errors, set } = form;
    const { properties } = draft;
    const change = (at: number, to: Partial<Property>): void =>
        set({ properties: properties.map((one, i) => (i === at ? { ...one, ...to } : one)) });
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (form.check(exampleOf(draft.example) === null ? { examples: 'The example is the JSON object of the properties.' } : {})) {
            save.mutate(requestOf(draft, page.plan), { onSuccess: () => form.kept() });
        }
    };

    return (
        <form onSubmit={submit} noValidate className="min-w-0 space-y-3 border border-line bg-leaf p-4">
            <h2 className="text-sm text-soft">Declared</h2>
            <TextField
                label="What it means"
                value={draft.meaning}
                error={errors.meaning}
                onChange={(event) => set({ meaning: event.target.value })}
            />
            <TextField
                label="Where it is sent from"
                value={draft.sent_from}
                error={errors.sent_from}
                onChange={(event) => set({ sent_from: event.target.value })}
            />
            {properties.map((property, i) => (
                <div key={i} className="flex flex-wrap items-end gap-2 border-t border-line pt-2">
                    <div className="w-36">
                        <TextField
                            label={`Property ${i + 1}`}
                            className="font-mono text-sm"
                            value={property.name}
                            onChange={(e) => change(i, { name: e.target.value })}
                        />
                    </div>
                    <div className="w-28">
                        <Choice
                            label={`Type of property ${i + 1}`}
                            value={property.type}
                            options={TYPES.map((value) => ({ value, label: value || 'any type' }))}
                            onChange={(type) => change(i, { type })}
                        />
                    </div>
                    <div className="min-w-40 flex-1">
                        <TextField
                            label="What it is"
                            value={property.description}
                            onChange={(e) => change(i, { description: e.target.value })}
                        />
                    </div>
                    <div className="pb-1.5">
                        <Tick label="required" on={property.required} onChange={() => change(i, { required: !property.required })} />
                    </div>
                    <Button
                        onClick={() => set({ properties: properties.filter((_, j) => j !== i) })}
                        aria-label={`Remove property ${i + 1}`}
                    >
                        Remove
                    </Button>
                    {Object.keys(property.rest).length > 0 && (
                        <p className="w-full font-mono text-sm text-soft">{JSON.stringify(property.rest)}</p>
                    )}
                </div>
            ))}
            <Button
                onClick={() =>
                    set({ properties: [...properties, { name: '', type: 'string', required: false, description: '', rest: {} }] })
                }
            >
                Add a property
            </Button>
            <TextArea
                label="Example of its properties (JSON)"
                className="font-mono text-sm"
                value={draft.example}
                error={errors.examples ?? errors['examples.0']}
                onChange={(event) => set({ example: event.target.value })}
            />
            <FormFoot form={form} submit="Keep the plan" saved="Kept." inFlow onLeaf>
                {page.plan && (
                    <Button
                        look="danger"
                        onClick={() =>
                            remove.mutate(undefined, {
                                onSuccess: () => {
                                    form.kept();
                                    navigate(address.events(site));
                                },
                            })
                        }
                    >
                        Take it out of the plan
                    </Button>
                )}
            </FormFoot>
        </form>
    );
}

function Seen({ page }: { page: Page }) {
    const most = Math.max(1, ...page.days.map((day) => day.count));
    const total = page.days.reduce((sum, day) => sum + day.count, 0);
    const first = page.first_violation;

    return (
        <section aria-label="Observed" className="min-w-0 border border-line bg-leaf p-4">
            <h2 className="text-sm text-soft">Observed</h2>
            {page.judged === 0 ? (
                <p>It has not been received.</p>
            ) : (
                <p>
                    {count(total)} in 28 days. Of the newest {count(page.judged)}
                    {Object.entries(page.verdicts)
                        .filter(([, n]) => n > 0)
                        .map(([verdict, n]) => `, ${count(n)} (${percent(n / page.judged)}) ${VERDICTS[verdict]}`)
                        .join('')}
                    .
                </p>
            )}
            {first && (
                <div className="mt-2 border-l-3 border-broken pl-3">
                    <h3 className="font-semibold">
                        First that did not, <Moment at={first.time} seconds />
                    </h3>
                    <p className="font-mono text-sm break-all">{first.url}</p>
                    {first.mistakes.map((one) => (
                        <p key={one.property + one.message} className="text-broken">
                            <span className="font-mono text-sm">{one.property}</span> {one.message}
                        </p>
                    ))}
                    <pre className="overflow-x-auto font-mono text-sm" tabIndex={0} aria-label="Its properties">
                        {JSON.stringify(first.props, null, 1)}
                    </pre>
                </div>
            )}
            <table className="mt-3 w-full text-sm">
                <caption className="text-left text-soft">By day, in the site’s time zone</caption>
                <tbody>
                    {page.days.map((day) => (
                        <tr key={day.day}>
                            <td className="pr-3 whitespace-nowrap">{day.day}</td>
                            <td className="pr-3 text-right">{count(day.count)}</td>
                            <td className="w-full" aria-hidden="true">
                                <span className="block h-2 bg-accent" style={{ width: `${(100 * day.count) / most}%` }} />
                            </td>
                        </tr>
                    ))}
                </tbody>
            </table>
        </section>
    );
}

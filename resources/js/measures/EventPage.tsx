import { useState, type FormEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { Problem, type Schemas } from '../api/client';
import { useEvent, useSavePlan, useUnplan } from '../api/measures';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
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
                        <Planned key={JSON.stringify(known.plan)} page={known} />
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

function Planned({ page }: { page: Page }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const save = useSavePlan(site, page.name);
    const remove = useUnplan(site, page.name);
    const [meaning, setMeaning] = useState(page.plan?.meaning ?? '');
    const [sentFrom, setSentFrom] = useState(page.plan?.sent_from ?? '');
    const [properties, setProperties] = useState(() => propertiesOf(page.plan));
    const [example, setExample] = useState(page.plan?.examples[0] ? JSON.stringify(page.plan.examples[0]) : '');
    const [wrong, setWrong] = useState('');
    const problem = save.error instanceof Problem ? save.error : null;
    const error = Object.values(problem?.errors ?? {})[0]?.[0] ?? problem?.message;
    const set = (at: number, change: Partial<Property>): void =>
        setProperties(properties.map((one, i) => (i === at ? { ...one, ...change } : one)));
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        let examples: Record<string, unknown>[];
        try {
            examples = example.trim() ? [JSON.parse(example) as Record<string, unknown>] : [];
            setWrong('');
        } catch {
            setWrong('The example is the JSON object of the properties.');

            return;
        }
        const named = properties.filter((one) => one.name.trim() !== '');
        save.mutate({
            meaning,
            sent_from: sentFrom,
            schema: {
                ...page.plan?.schema,
                type: 'object',
                properties: Object.fromEntries(
                    named.map(({ name, type, description, rest }) => [
                        name,
                        { ...rest, ...(type ? { type } : {}), ...(description ? { description } : {}) },
                    ]),
                ),
                required: named.filter((one) => one.required).map((one) => one.name),
            },
            examples,
        });
    };

    return (
        <form onSubmit={submit} noValidate className="min-w-0 space-y-3 border border-line bg-leaf p-4">
            <h2 className="text-sm text-soft">Declared</h2>
            <TextField label="What it means" value={meaning} onChange={(event) => setMeaning(event.target.value)} />
            <TextField label="Where it is sent from" value={sentFrom} onChange={(event) => setSentFrom(event.target.value)} />
            {properties.map((property, i) => (
                <div key={i} className="flex flex-wrap items-end gap-2 border-t border-line pt-2">
                    <div className="w-36">
                        <TextField
                            label={`Property ${i + 1}`}
                            className="font-mono text-sm"
                            value={property.name}
                            onChange={(e) => set(i, { name: e.target.value })}
                        />
                    </div>
                    <div className="w-28">
                        <Choice
                            label={`Type of property ${i + 1}`}
                            value={property.type}
                            options={TYPES.map((value) => ({ value, label: value || 'any type' }))}
                            onChange={(type) => set(i, { type })}
                        />
                    </div>
                    <div className="min-w-40 flex-1">
                        <TextField
                            label="What it is"
                            value={property.description}
                            onChange={(e) => set(i, { description: e.target.value })}
                        />
                    </div>
                    <div className="pb-1.5">
                        <Tick label="required" on={property.required} onChange={() => set(i, { required: !property.required })} />
                    </div>
                    <Button onClick={() => setProperties(properties.filter((_, j) => j !== i))} aria-label={`Remove property ${i + 1}`}>
                        Remove
                    </Button>
                    {Object.keys(property.rest).length > 0 && (
                        <p className="w-full font-mono text-sm text-soft">{JSON.stringify(property.rest)}</p>
                    )}
                </div>
            ))}
            <Button
                onClick={() => setProperties([...properties, { name: '', type: 'string', required: false, description: '', rest: {} }])}
            >
                Add a property
            </Button>
            <TextArea
                label="Example of its properties (JSON)"
                className="font-mono text-sm"
                value={example}
                error={wrong || undefined}
                onChange={(event) => setExample(event.target.value)}
            />
            <div className="flex flex-wrap items-center gap-3">
                <Button type="submit" look="main" disabled={save.isPending}>
                    Keep the plan
                </Button>
                {page.plan && (
                    <Button look="danger" onClick={() => remove.mutate(undefined, { onSuccess: () => navigate(address.events(site)) })}>
                        Take it out of the plan
                    </Button>
                )}
                <span role="status">{save.isSuccess && 'Kept.'}</span>
            </div>
            {error && (
                <p role="alert" className="text-broken">
                    {error}
                </p>
            )}
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

import { useRef, useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { useAuditLogs } from '../api/audits';
import { Problem } from '../api/client';
import { useGoals } from '../api/measures';
import { useExperiments, useSite } from '../api/queries';
import { useReconcile } from '../api/reconciliations';
import { address } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { fieldErrors } from '../parts/fieldErrors';
import { decimalOf, FIELDS, formatOf, guessed, headOf, kindOf, mappingOf, samples, type Mapped, type OtherHead } from './otherColumns';

const HEAD_BYTES = 65_536;
const NONE = '';

const PLAIN: Mapped = { kind: 'days', columns: {}, format: '', decimal: '.', encoding: '', variants: '' };

const FORMATS = [
    { value: '', label: '2026-03-02, as RFC 3339' },
    { value: 'd.m.Y', label: '02.03.2026' },
    { value: 'd/m/Y', label: '02/03/2026, the day first' },
    { value: 'm/d/Y', label: '03/02/2026, the month first' },
    { value: 'd.m.Y H:i', label: '02.03.2026 14:05' },
    { value: 'd.m.Y H:i:s', label: '02.03.2026 14:05:00' },
    { value: 'd/m/Y H:i:s', label: '02/03/2026 14:05:00, the day first' },
    { value: 'm/d/Y H:i:s', label: '03/02/2026 14:05:00, the month first' },
    { value: 'd/m/Y H:i', label: '02/03/2026 14:05, the day first' },
    { value: 'm/d/Y H:i', label: '03/02/2026 14:05, the month first' },
    { value: 'seconds', label: 'Seconds since 1970' },
    { value: 'milliseconds', label: 'Milliseconds since 1970' },
];

/** What the mapping seems to be. */
function proposed(head: OtherHead): Mapped {
    const [kind, columns] = [kindOf(head.columns), guessed(head.columns)];

    return {
        ...PLAIN,
        kind,
        columns,
        format: formatOf(samples(head, kind === 'days' ? columns.day : columns.time)),
        decimal: decimalOf(samples(head, kind === 'days' ? columns.visitors : columns.value)),
    };
}

/** Brings a file of another source, says what its columns are, and against what it is held. */
export function ReconcileForm({ site }: { site: string }) {
    const navigate = useNavigate();
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    const experiments = (useExperiments(site).data ?? []).filter(({ started_at }) => started_at !== null);
    const logs = (useAuditLogs(site).data ?? []).filter(({ state, experiment }) => state === 'whole' && experiment !== null);
    const goals = useGoals(site).data ?? [];
    const [file, setFile] = useState<File | null>(null);
    const [head, setHead] = useState<OtherHead | null>(null);
    const [mapped, setMapped] = useState(PLAIN);
    const [against, setAgainst] = useState('');
    const [goal, setGoal] = useState(NONE);
    const [tolerance, setTolerance] = useState('5');
    const [seconds, setSeconds] = useState('600');
    const input = useRef<HTMLInputElement>(null);
    const ask = useReconcile(site);
    const errors = fieldErrors(ask.error);
    const mistakes = Object.entries(errors).filter(([field]) => field.startsWith('mapping'));
    const subjects = [
        ...experiments.map(({ key, name }) => ({ value: `experiment ${key}`, label: name })),
        ...logs.map(({ log, name }) => ({ value: `log ${log}`, label: `Log ${name}` })),
    ];
    const subject = subjects.find(({ value }) => value === against)?.value ?? subjects[0]?.value ?? '';

    const choose = async (chosen: File | undefined): Promise<void> => {
        ask.reset();
        setFile(chosen ?? null);
        const found = chosen ? headOf(await chosen.slice(0, HEAD_BYTES).text()) : null;
        // What is packed is read by the server alone.
        const isPlain = found !== null && !found.columns.some((one) => one.includes('\uFFFD') || one.includes('\u0000'));
        setHead(isPlain ? found : null);
        setMapped(isPlain ? proposed(found) : PLAIN);
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        if (!file) {
            input.current?.focus();

            return;
        }
        const [kind, key] = [subject.split(' ')[0], subject.slice(subject.indexOf(' ') + 1)];
        const mapping = head ? mappingOf(mapped, zone) : null;
        ask.mutate(
            {
                file,
                ...(kind === 'log' ? { log: Number(key) } : { experiment: key }),
                ...(mapping ? { mapping: JSON.stringify(mapping) } : {}),
                tolerance: `${Number(tolerance.replace(',', '.')) / 100}`,
                window: seconds,
                ...(mapped.kind === 'days' && goal ? { goal } : {}),
            },
            { onSuccess: ({ reconciliation }) => navigate(address.reconcile(site, reconciliation)) },
        );
    };

    if (subjects.length === 0) {
        return <p className="text-soft">There is nothing to hold it against: no experiment has started, and no log was brought.</p>;
    }

    return (
        <form onSubmit={submit} noValidate aria-label="Hold another source against it" className="space-y-4 border border-line bg-leaf p-4">
            <div className="grid gap-4 md:grid-cols-2">
                <label className="block">
                    <span className="mb-0.5 block font-semibold">File of the other source</span>
                    <input
                        ref={input}
                        type="file"
                        accept=".csv,.tsv,.txt,.gz,text/csv"
                        aria-invalid={Boolean(errors.file)}
                        className="block w-full rounded-xs border border-[#8b8f96] bg-leaf px-2 py-1 aria-[invalid=true]:border-broken"
                        onChange={(event) => void choose(event.target.files?.[0])}
                    />
                    <span className="mt-0.5 block text-sm text-soft">
                        CSV: orders of a shop, or visitors (or hits of a goal) by day, perhaps by variant
                    </span>
                    {errors.file && (
                        <span role="alert" className="mt-0.5 block text-sm text-broken">
                            {errors.file}
                        </span>
                    )}
                </label>
                <div>
                    <p className="mb-0.5 font-semibold">Against</p>
                    <Choice label="Against" value={subject} options={subjects} onChange={setAgainst} />
                    {(errors.experiment ?? errors.log) && (
                        <p role="alert" className="mt-0.5 text-sm text-broken">
                            {errors.experiment ?? errors.log}
                        </p>
                    )}
                </div>
            </div>
            {head && (
                <fieldset className="space-y-3 border-t border-line pt-3">
                    <legend className="sr-only">What its columns are</legend>
                    <div className="flex flex-wrap items-end gap-3">
                        <div className="w-72">
                            <p className="mb-0.5 font-semibold">It has</p>
                            <Choice
                                label="It has"
                                value={mapped.kind}
                                options={[
                                    { value: 'days', label: 'Visitors or hits by day' },
                                    { value: 'orders', label: 'Orders, one a row' },
                                ]}
                                onChange={(kind) => setMapped({ ...mapped, kind })}
                            />
                        </div>
                        {mapped.kind === 'days' && (
                            <div className="w-72">
                                <p className="mb-0.5 font-semibold">It counts</p>
                                <Choice
                                    label="It counts"
                                    value={goal}
                                    options={[
                                        { value: NONE, label: 'Visitors' },
                                        ...goals.map(({ goal: { key, name } }) => ({ value: `${key}`, label: `Goal ${name}` })),
                                    ]}
                                    onChange={setGoal}
                                />
                                {errors.goal && (
                                    <p role="alert" className="mt-0.5 text-sm text-broken">
                                        {errors.goal}
                                    </p>
                                )}
                            </div>
                        )}
                    </div>
                    <div className="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
                        {FIELDS[mapped.kind].map(({ field, label, needed }) => (
                            <div key={field}>
                                <p className="mb-0.5 font-semibold">
                                    {label}
                                    {!needed && <span className="font-normal text-soft"> if there is one</span>}
                                </p>
                                <Choice
                                    label={label}
                                    value={mapped.columns[field] ?? NONE}
                                    options={[
                                        { value: NONE, label: needed ? 'Choose a column…' : 'None' },
                                        ...head.columns.map((column) => ({ value: column, label: column || '(without a name)' })),
                                    ]}
                                    onChange={(column) => setMapped({ ...mapped, columns: { ...mapped.columns, [field]: column } })}
                                />
                            </div>
                        ))}
                        <div>
                            <p className="mb-0.5 font-semibold">{mapped.kind === 'days' ? 'Days' : 'Times'} are written</p>
                            <Choice
                                label="How times are written"
                                value={mapped.format}
                                options={FORMATS}
                                onChange={(format) => setMapped({ ...mapped, format })}
                            />
                        </div>
                        <div>
                            <p className="mb-0.5 font-semibold">Numbers are written</p>
                            <Choice
                                label="Numbers are written"
                                value={mapped.decimal}
                                options={[
                                    { value: '.', label: '1234.50' },
                                    { value: ',', label: '1234,50' },
                                ]}
                                onChange={(decimal) => setMapped({ ...mapped, decimal })}
                            />
                        </div>
                    </div>
                    {(mapped.columns.variant ?? '') !== '' && (
                        <div className="max-w-md">
                            <TextArea
                                label="Where their names of variants are others"
                                className="font-mono text-sm"
                                placeholder="A = control"
                                value={mapped.variants}
                                onChange={(event) => setMapped({ ...mapped, variants: event.target.value })}
                            />
                        </div>
                    )}
                    {mistakes.map(([field, words]) => (
                        <p key={field} role="alert" className="text-broken">
                            {words}
                        </p>
                    ))}
                </fieldset>
            )}
            <div className="flex flex-wrap items-end gap-3 border-t border-line pt-3">
                <div className="w-52">
                    <TextField
                        label="They may differ by, in %"
                        inputMode="decimal"
                        value={tolerance}
                        error={errors.tolerance}
                        onChange={(event) => setTolerance(event.target.value)}
                    />
                </div>
                {mapped.kind === 'orders' && (
                    <div className="w-60">
                        <TextField
                            label="Times may differ by, in seconds"
                            inputMode="numeric"
                            value={seconds}
                            error={errors.window}
                            onChange={(event) => setSeconds(event.target.value)}
                        />
                    </div>
                )}
                <Button type="submit" look="main" disabled={ask.isPending || !file}>
                    {ask.isPending ? 'It is sent…' : 'Hold it against'}
                </Button>
                {ask.error && !(ask.error instanceof Problem && Object.keys(ask.error.errors).length > 0) && (
                    <p role="alert" className="text-broken">
                        {ask.error.message}
                    </p>
                )}
            </div>
        </form>
    );
}

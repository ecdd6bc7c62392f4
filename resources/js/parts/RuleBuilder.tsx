import { useState } from 'react';
import { Button } from './Button';
import { Choice } from './Choice';
import { Field, TextField } from './Field';
import { asRows, FACT_LABELS, opsOf, ruleOf, type Row, type RuleJson, type Rows } from './ruleRows';
import { takeApart } from './rules';

interface Props {
    label: string;
    rule: RuleJson;
    facts: string[];
    hosts: string[];
    errors?: Record<string, string>;
    /** Where this rule stands in what is sent: errors come by that path. */
    path?: string;
    onChange: (rule: RuleJson) => void;
}

/** Writes a rule as rows that must all, or of which one must, hold. A rule of another shape is edited as its JSON. */
export function RuleBuilder({ label, rule, facts, hosts, errors = {}, path = '', onChange }: Props) {
    const rows = asRows(rule);
    if (!rows) {
        return <RuleText label={label} rule={rule} error={errorAt(errors, path)} onChange={onChange} />;
    }
    const set = (next: Rows): void => onChange(ruleOf(next));
    const setRow = (at: number, row: Row): void => set({ ...rows, rows: rows.rows.map((one, i) => (i === at ? row : one)) });

    return (
        <fieldset className="min-w-0">
            <legend className="mb-0.5 font-semibold">{label}</legend>
            <div className="space-y-2 border-l-3 border-line pl-3">
                {rows.rows.length > 1 && (
                    <div className="w-56">
                        <Choice
                            label="How the conditions are joined"
                            value={rows.join}
                            options={[
                                { value: 'all', label: 'All of these hold' },
                                { value: 'any', label: 'One of these holds' },
                            ]}
                            onChange={(join) => set({ ...rows, join })}
                        />
                    </div>
                )}
                {rows.rows.length === 0 && <p className="text-soft">No condition: it always holds.</p>}
                {rows.rows.map((row, i) => (
                    <Condition
                        key={i}
                        number={i + 1}
                        row={row}
                        facts={facts}
                        hosts={hosts}
                        onChange={(next) => setRow(i, next)}
                        onRemove={() => set({ ...rows, rows: rows.rows.filter((_, j) => j !== i) })}
                    />
                ))}
                <Button
                    onClick={() => set({ ...rows, rows: [...rows.rows, { fact: facts[0], name: '', op: 'is', value: '', ignore: [] }] })}
                >
                    Add a condition
                </Button>
            </div>
            {errorAt(errors, path) && (
                <p role="alert" className="mt-0.5 text-sm text-broken">
                    {errorAt(errors, path)}
                </p>
            )}
        </fieldset>
    );
}

function errorAt(errors: Record<string, string>, path: string): string | undefined {
    const key = Object.keys(errors).find((one) => one === path || one.startsWith(`${path}.`));

    return key && errors[key];
}

function Condition({
    number,
    row,
    facts,
    hosts,
    onChange,
    onRemove,
}: {
    number: number;
    row: Row;
    facts: string[];
    hosts: string[];
    onChange: (row: Row) => void;
    onRemove: () => void;
}) {
    const [note, setNote] = useState<{ note?: string; error?: string }>({});
    const named = row.fact.endsWith('.');
    const ops = opsOf(row.fact);
    const hasValue = !row.op.endsWith('exists');
    const leave = (): void => {
        if (row.fact === 'url.path' && !row.op.endsWith('matches')) {
            const apart = takeApart(row.value, hosts);
            setNote(apart);
            if (apart.value !== row.value) {
                onChange({ ...row, value: apart.value });
            }
        }
    };
    const toggle = (what: string): void =>
        onChange({ ...row, ignore: row.ignore.includes(what) ? row.ignore.filter((one) => one !== what) : [...row.ignore, what] });

    return (
        <div className="space-y-1">
            <div className="flex flex-wrap items-start gap-2">
                <div className="w-40">
                    <Choice
                        label={`Condition ${number}: what`}
                        value={row.fact}
                        options={[...new Set([...facts, row.fact])].map((fact) => ({ value: fact, label: FACT_LABELS[fact] ?? fact }))}
                        onChange={(fact) =>
                            onChange({ ...row, fact, op: opsOf(fact).some((op) => op.value === row.op) ? row.op : 'is', ignore: [] })
                        }
                    />
                </div>
                {named && (
                    <div className="w-32">
                        <TextField
                            label={`Condition ${number}: name`}
                            hideLabel
                            className="font-mono text-sm"
                            placeholder="name"
                            value={row.name}
                            onChange={(event) => onChange({ ...row, name: event.target.value })}
                        />
                    </div>
                )}
                <div className="w-44">
                    <Choice
                        label={`Condition ${number}: how it compares`}
                        value={row.op}
                        options={ops}
                        onChange={(op) => onChange({ ...row, op })}
                    />
                </div>
                {hasValue && (
                    <div className="min-w-48 flex-1">
                        <TextField
                            label={`Condition ${number}: value`}
                            hideLabel
                            className="font-mono text-sm"
                            placeholder={row.op.endsWith('in') ? 'one, two, three' : row.fact === 'url.path' ? '/join/done' : ''}
                            value={row.value}
                            error={note.error}
                            note={note.note}
                            onBlur={leave}
                            onChange={(event) => {
                                setNote({});
                                onChange({ ...row, value: event.target.value });
                            }}
                        />
                    </div>
                )}
                <Button onClick={onRemove} aria-label={`Remove condition ${number}`}>
                    Remove
                </Button>
            </div>
            {row.fact.startsWith('url.') && hasValue && !row.op.endsWith('matches') && (
                <div className="flex gap-5 text-sm text-soft">
                    <Tick label="capitals do not matter" on={row.ignore.includes('case')} onChange={() => toggle('case')} />
                    {row.fact === 'url.path' && (
                        <Tick
                            label="a slash at the end does not matter"
                            on={row.ignore.includes('slash')}
                            onChange={() => toggle('slash')}
                        />
                    )}
                </div>
            )}
        </div>
    );
}

export function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: () => void }) {
    return (
        <label className="flex items-center gap-1.5">
            <input type="checkbox" className="size-4 accent-accent" checked={on} onChange={onChange} />
            {label}
        </label>
    );
}

function RuleText({ label, rule, error, onChange }: { label: string; rule: RuleJson; error?: string; onChange: (rule: RuleJson) => void }) {
    const [text, setText] = useState(JSON.stringify(rule, null, 2));
    const [wrong, setWrong] = useState('');
    // A rule that came from elsewhere, as when a change is taken back, is shown as it is.
    const shown = wrong || JSON.stringify(JSON.parse(text)) === JSON.stringify(rule) ? text : JSON.stringify(rule, null, 2);

    return (
        <Field label={`${label} (JSON)`} error={wrong || error} note="This rule is nested deeper than the form can show.">
            <textarea
                aria-label={`${label} (JSON)`}
                className="w-full rounded-xs border border-[#8b8f96] bg-leaf p-2 font-mono text-sm"
                rows={8}
                value={shown}
                onChange={(event) => {
                    setText(event.target.value);
                    try {
                        onChange(JSON.parse(event.target.value) as RuleJson);
                        setWrong('');
                    } catch {
                        setWrong('This is no JSON yet.');
                    }
                }}
            />
        </Field>
    );
}

import { useState } from 'react';
import { Button } from './Button';
import { Choice } from './Choice';
import { Field, TextField } from './Field';
import {
    asRows,
    emptyRow,
    FACT_LABELS,
    isGroup,
    JOINS,
    opsOf,
    ruleOf,
    valuesOf,
    type Join,
    type Row,
    type RuleJson,
    type Rows,
} from './ruleRows';
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

/** Groups within groups, so deep: deeper ones nobody reads. */
const DEEPEST = 4;

/** Writes a rule as conditions, and groups of them, that are joined. A rule of a shape that no form shows is edited as its JSON. */
export function RuleBuilder({ label, rule, facts, hosts, errors = {}, path = '', onChange }: Props) {
    const rows = asRows(rule);
    if (!rows) {
        return <RuleText label={label} rule={rule} error={errorAt(errors, path)} onChange={onChange} />;
    }

    return (
        <fieldset className="min-w-0">
            <legend className="mb-0.5 font-semibold">{label}</legend>
            <Group group={rows} number="" facts={facts} hosts={hosts} depth={1} onChange={(next) => onChange(ruleOf(next))} />
            {errorAt(errors, path) && (
                <p role="alert" className="mt-0.5 text-sm text-broken">
                    {errorAt(errors, path)}
                </p>
            )}
        </fieldset>
    );
}

interface GroupProps {
    group: Rows;
    /** Of the group within the rule, such as `2.1`; empty for the whole of it. */
    number: string;
    facts: string[];
    hosts: string[];
    depth: number;
    onChange: (group: Rows) => void;
    onRemove?: () => void;
}

function Group({ group, number, facts, hosts, depth, onChange, onRemove }: GroupProps) {
    const { join, rows } = group;
    const put = (at: number, part: Rows['rows'][number]): void => onChange({ join, rows: rows.map((one, i) => (i === at ? part : one)) });
    const remove = (at: number): void => onChange({ join, rows: rows.filter((_, i) => i !== at) });
    const add = (part: Rows['rows'][number]): void => onChange({ join, rows: [...rows, part] });

    return (
        <div role="group" aria-label={number ? `Group ${number}` : 'Whole rule'} className="space-y-2 border-l-3 border-line pl-3">
            {(rows.length > 1 || number !== '' || join !== 'all') && (
                <div className="w-56">
                    <Choice
                        label={number ? `How group ${number} is joined` : 'How the conditions are joined'}
                        value={join}
                        options={JOINS}
                        onChange={(next) => onChange({ join: next, rows })}
                    />
                </div>
            )}
            {rows.length === 0 && <p className="text-soft">{EMPTY[join]}</p>}
            {rows.map((part, i) => {
                const own = number ? `${number}.${i + 1}` : `${i + 1}`;

                return isGroup(part) ? (
                    <Group
                        key={i}
                        group={part}
                        number={own}
                        facts={facts}
                        hosts={hosts}
                        depth={depth + 1}
                        onChange={(next) => put(i, next)}
                        onRemove={() => remove(i)}
                    />
                ) : (
                    <Condition
                        key={i}
                        number={own}
                        row={part}
                        facts={facts}
                        hosts={hosts}
                        onChange={(next) => put(i, next)}
                        onRemove={() => remove(i)}
                    />
                );
            })}
            <div className="flex flex-wrap gap-2">
                <Button onClick={() => add(emptyRow(facts[0]))} aria-label={number ? `Add a condition to group ${number}` : undefined}>
                    Add a condition
                </Button>
                {depth < DEEPEST && (
                    <Button
                        onClick={() => add({ join: join === 'any' ? 'all' : 'any', rows: [emptyRow(facts[0])] })}
                        aria-label={number ? `Add a group to group ${number}` : undefined}
                    >
                        Add a group
                    </Button>
                )}
                {onRemove && (
                    <Button onClick={onRemove} aria-label={`Remove group ${number}`}>
                        Remove group
                    </Button>
                )}
            </div>
        </div>
    );
}

const EMPTY: Record<Join, string> = {
    all: 'No condition: it always holds.',
    none: 'No condition: it always holds.',
    any: 'No condition: it never holds.',
    'not-all': 'No condition: it never holds.',
};

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
    number: string;
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
    const values = valuesOf(row);
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
                            onChange(
                                fitted({ ...row, fact, op: opsOf(fact).some((op) => op.value === row.op) ? row.op : 'is', ignore: [] }),
                            )
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
                        onChange={(op) => onChange(fitted({ ...row, op }))}
                    />
                </div>
                {hasValue && values.length > 0 && (
                    <div className="w-40">
                        <Choice
                            label={`Condition ${number}: value`}
                            value={row.value}
                            options={[...new Set([...values, row.value])].map((value) => ({ value, label: VALUE_LABELS[value] ?? value }))}
                            onChange={(value) => onChange({ ...row, value })}
                        />
                    </div>
                )}
                {hasValue && values.length === 0 && (
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

const VALUE_LABELS: Record<string, string> = { true: 'yes', false: 'no' };

/** With a value that can be chosen, where there is a choice. */
function fitted(row: Row): Row {
    const values = valuesOf(row);

    return values.length === 0 || values.includes(row.value) ? row : { ...row, value: values[0] };
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
        <Field label={`${label} (JSON)`} error={wrong || error} note="The form cannot show this rule.">
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

import type { ReadAuditLog } from '../api/audits';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { draftOf, FIELDS, OUR_NAMES, type MappingDraft } from './mapping';

interface Props {
    read: ReadAuditLog;
    /** Whether columns are mapped at all: ours need no mapping. */
    mapped: boolean;
    draft: MappingDraft;
    error?: string;
    onMapped: (mapped: boolean) => void;
    onChange: (draft: MappingDraft) => void;
}

/** Which column has which field, how times are written, and what events are called. */
export function ColumnFields({ read, mapped, draft, error, onMapped, onChange }: Props) {
    const { columns, proposal } = read.head;
    const sure = read.head.sure as Record<string, boolean>;
    const set = (part: Partial<MappingDraft>): void => onChange({ ...draft, ...part });
    const options = [{ value: '', label: '– none –' }, ...columns.map((column) => ({ value: column, label: column }))];
    const nameColumn = draft.columns.name;
    const place = columns.indexOf(nameColumn);
    const theirNames = [
        ...new Set([
            ...Object.keys(draft.names),
            ...read.head.rows.map((row) => row[place] ?? ''),
            ...Object.keys(read.head.tried?.names ?? {}),
        ]),
    ].filter((name) => name !== '' && (!OUR_NAMES.includes(name) || draft.names[name]));

    return (
        <div className="space-y-3">
            <h2 className="text-lg font-semibold">What its columns mean</h2>
            <Choice
                label="Columns"
                value={mapped ? 'mapped' : 'ours'}
                options={[
                    { value: 'ours', label: 'They are Pellix’s own' },
                    { value: 'mapped', label: 'They have other names' },
                ]}
                onChange={(value) => onMapped(value === 'mapped')}
            />
            {error && (
                <p role="alert" className="text-broken">
                    {error}
                </p>
            )}
            {mapped && (
                <>
                    {proposal && (
                        <p className="flex flex-wrap items-center gap-3 text-sm">
                            What stands here was guessed from names and first lines; look it through.
                            <Button onClick={() => onChange(draftOf(proposal))}>Guess again</Button>
                        </p>
                    )}
                    <div className="border-y border-line bg-leaf">
                        {FIELDS.map(({ field, label, needed }) => {
                            const column = draft.columns[field] ?? '';
                            const guessed =
                                column !== '' && proposal !== null && (proposal.columns as Record<string, string>)[field] === column;

                            return (
                                <div
                                    key={field}
                                    className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] items-center gap-3 border-b border-line px-3 py-1 last:border-b-0"
                                >
                                    <span>
                                        {label}
                                        {needed && column === '' && <span className="ml-2 text-sm text-broken">is needed</span>}
                                        {guessed && sure[field] === false && <span className="ml-2 text-sm text-doubt-ink">not sure</span>}
                                    </span>
                                    <Choice
                                        label={`Column of ${label}`}
                                        value={column}
                                        options={
                                            column === '' || columns.includes(column)
                                                ? options
                                                : [...options, { value: column, label: column }]
                                        }
                                        onChange={(value) => set({ columns: { ...draft.columns, [field]: value } })}
                                        className="font-mono text-sm"
                                    />
                                </div>
                            );
                        })}
                    </div>
                    <div className="grid gap-3 sm:grid-cols-2">
                        <TextField
                            label="How times are written"
                            className="font-mono text-sm"
                            value={draft.format}
                            note="rfc3339, seconds, milliseconds, microseconds, or as PHP writes formats: d.m.Y H:i:s"
                            onChange={(event) => set({ format: event.target.value })}
                        />
                        <TextField
                            label="Time zone of times that do not say theirs"
                            value={draft.zone}
                            note="Such as Europe/Berlin"
                            onChange={(event) => set({ zone: event.target.value })}
                        />
                        <TextField
                            label="Host of addresses that are paths alone"
                            value={draft.host}
                            note="Such as https://shop.example"
                            onChange={(event) => set({ host: event.target.value })}
                        />
                        <div>
                            <p className="mb-0.5 font-semibold">Decimal sign</p>
                            <Choice
                                label="Decimal sign"
                                value={draft.decimal}
                                options={[
                                    { value: '.', label: 'Point: 1234.50' },
                                    { value: ',', label: 'Comma: 1.234,50' },
                                ]}
                                onChange={(decimal) => set({ decimal })}
                            />
                        </div>
                    </div>
                    {theirNames.length > 0 && (
                        <div>
                            <h3 className="font-semibold">What its events are called</h3>
                            <div className="border-y border-line bg-leaf">
                                {theirNames.slice(0, 30).map((name) => (
                                    <div
                                        key={name}
                                        className="grid grid-cols-2 items-center gap-3 border-b border-line px-3 py-1 last:border-b-0"
                                    >
                                        <span className="font-mono text-sm break-all">{name}</span>
                                        <Choice
                                            label={`What ${name} is here`}
                                            value={draft.names[name] ?? ''}
                                            options={[
                                                { value: '', label: 'itself' },
                                                ...OUR_NAMES.map((value) => ({ value, label: value })),
                                            ]}
                                            onChange={(ours) => set({ names: { ...draft.names, [name]: ours } })}
                                        />
                                    </div>
                                ))}
                            </div>
                        </div>
                    )}
                </>
            )}
        </div>
    );
}

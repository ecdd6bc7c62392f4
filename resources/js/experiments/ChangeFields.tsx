import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextArea, TextField } from '../parts/Field';
import { CHANGE_KINDS, CHANGE_PLACES } from '../parts/vocabulary';
import type { Change } from './changeDraft';

interface Props {
    change: Change;
    name: string;
    at: string;
    errors: Record<string, string>;
    onChange: (change: Change) => void;
    /** The rest is missing where there is no list of changes yet. */
    onRemove?: () => void;
    /** Up or down in the order in which changes are made; missing where there is nothing to pass. */
    onMove?: { up?: () => void; down?: () => void };
    /** Variants that it can be copied to. */
    copyTo?: { key: string; name: string }[];
    onCopy?: (variant: string) => void;
}

const KINDS = Object.entries(CHANGE_KINDS).map(([value, { label }]) => ({ value: value as Change['kind'], label }));
const PLACES = Object.entries(CHANGE_PLACES).map(([value, label]) => ({ value: value as NonNullable<Change['place']>, label }));

const UNKNOWN = { selector: false, code: false };
const MONO = 'font-mono text-sm';

/** One change of a variant: its kind, where, and what that kind takes. */
export function ChangeFields({ change, name, at, errors, onChange, onRemove, onMove, copyTo, onCopy }: Props) {
    const set = (next: Partial<Change>): void => onChange({ ...change, ...next });
    const kind = CHANGE_KINDS[change.kind] ?? UNKNOWN;

    return (
        <div role="group" aria-label={name} className="py-1">
            <div className="grid items-start gap-2 sm:grid-cols-[8.5rem_1fr_1fr]">
                <div className="sm:pt-[1.58rem]">
                    <Choice label={`${name}: kind`} value={change.kind} options={KINDS} onChange={(next) => set({ kind: next })} />
                </div>
                {kind.selector && (
                    <TextField
                        label="Elements (CSS selector)"
                        className={MONO}
                        placeholder="h1"
                        value={change.selector ?? ''}
                        error={errors[`${at}.selector`]}
                        onChange={(event) => set({ selector: event.target.value })}
                    />
                )}
                <Members change={change} name={name} at={at} errors={errors} set={set} />
            </div>
            {kind.code && (
                <p className="mt-1 text-sm text-soft">
                    This becomes part of the page and can do there whatever the page can: read what visitors type, send it anywhere, break
                    the page. It takes the right to publish to write it, and to start it.
                </p>
            )}
            {onRemove && (
                <div className="mt-2 flex flex-wrap items-center gap-2">
                    {kind.selector && <Widths change={change} name={name} error={errors[`${at}.media`]} set={set} />}
                    <label className="mr-auto flex items-center gap-2 text-sm">
                        <input
                            type="checkbox"
                            className="size-4 accent-accent"
                            checked={change.off !== true}
                            onChange={() => set({ off: change.off ? undefined : true })}
                        />
                        switched on
                    </label>
                    <Button onClick={onMove?.up} disabled={!onMove?.up} aria-label={`Make ${name} earlier`}>
                        Earlier
                    </Button>
                    <Button onClick={onMove?.down} disabled={!onMove?.down} aria-label={`Make ${name} later`}>
                        Later
                    </Button>
                    <div className="w-28">
                        <Choice
                            label={`Copy ${name}`}
                            value=""
                            options={[
                                { value: '', label: 'Copy to…' },
                                ...(copyTo ?? []).map((one) => ({ value: one.key, label: one.name })),
                            ]}
                            onChange={(key) => key && onCopy?.(key)}
                        />
                    </div>
                    <Button onClick={onRemove} aria-label={`Remove ${name}`}>
                        Remove
                    </Button>
                </div>
            )}
        </div>
    );
}

/** Screens that the change is made on; a field where it is bound to some. */
function Widths({ change, name, error, set }: { change: Change; name: string; error?: string; set: (next: Partial<Change>) => void }) {
    return change.media === undefined ? (
        <Button onClick={() => set({ media: '(max-width: 600px)' })} aria-label={`At any width: ${name}`}>
            At any width
        </Button>
    ) : (
        <span className="w-72">
            <TextField
                label={`${name}: only where the screen is`}
                className={MONO}
                value={change.media}
                error={error}
                onChange={(event) => set({ media: event.target.value === '' ? undefined : event.target.value })}
            />
        </span>
    );
}

function Members({
    change,
    name,
    at,
    errors,
    set,
}: Pick<Props, 'change' | 'name' | 'at' | 'errors'> & { set: (next: Partial<Change>) => void }) {
    const value = (label: string, className = MONO) => (
        <TextField
            label={label}
            className={className}
            value={change.value ?? ''}
            error={errors[`${at}.value`]}
            onChange={(event) => set({ value: event.target.value || (change.kind === 'attribute' ? null : '') })}
        />
    );
    const code = (label: string, className = 'sm:col-span-2') => (
        <div className={className}>
            <TextArea
                label={label}
                className={MONO}
                rows={4}
                spellCheck={false}
                value={change.value ?? ''}
                error={errors[`${at}.value`]}
                onChange={(event) => set({ value: event.target.value })}
            />
        </div>
    );
    const word = (field: 'property' | 'attribute' | 'to', label: string, placeholder: string) => (
        <TextField
            label={label}
            className={MONO}
            placeholder={placeholder}
            value={change[field] ?? ''}
            error={errors[`${at}.${field}`]}
            onChange={(event) => set({ [field]: event.target.value })}
        />
    );
    const names = (field: 'add' | 'remove', label: string) => (
        <TextField
            label={label}
            className={MONO}
            value={(change[field] ?? []).join(' ')}
            error={errorOf(errors, `${at}.${field}`)}
            onChange={(event) => set({ [field]: event.target.value === '' ? [] : event.target.value.split(/\s/) })}
        />
    );
    const place = (
        <div className="sm:pt-[1.58rem]">
            <Choice label={`${name}: place`} value={change.place ?? 'before'} options={PLACES} onChange={(next) => set({ place: next })} />
        </div>
    );

    switch (change.kind) {
        case 'text':
            return value('New text', '');
        case 'html':
            return code('HTML inside it', 'sm:col-span-3');
        case 'attribute':
            return (
                <div className="grid grid-cols-2 gap-2">
                    {word('attribute', 'Attribute', 'href')}
                    {value('Value (empty takes it off)')}
                </div>
            );
        case 'style':
            return (
                <div className="grid grid-cols-2 gap-2">
                    {word('property', 'Property', 'background-color')}
                    {value('Value')}
                </div>
            );
        case 'class':
            return (
                <div className="grid grid-cols-2 gap-2">
                    {names('add', 'Add')}
                    {names('remove', 'Take off')}
                </div>
            );
        case 'move':
            return (
                <div className="grid grid-cols-2 gap-2">
                    {place}
                    {word('to', 'of the element', '#main')}
                </div>
            );
        case 'insert':
            return (
                <>
                    {place}
                    {code('HTML', 'sm:col-span-3')}
                </>
            );
        case 'sheet':
            return code('Style sheet');
        case 'script':
            return code('Script (runs once)');
        default:
            return <span />;
    }
}

function errorOf(errors: Record<string, string>, at: string): string | undefined {
    return errors[at] ?? Object.entries(errors).find(([field]) => field.startsWith(`${at}.`))?.[1];
}

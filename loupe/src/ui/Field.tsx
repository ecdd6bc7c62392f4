import { useId } from 'react';

export interface FieldProps<T> {
    label: string;
    value: T;
    onValue: (value: T) => void;
    mono?: boolean;
    note?: string;
    options?: string[];
}

/** A field of one line, with what is to be said of it. */
export function Field({ label, value, onValue, mono = false, note, options }: FieldProps<string>) {
    const id = useId();

    return (
        <div>
            <label className="label" htmlFor={id}>
                {label}
            </label>
            <input
                id={id}
                className={`wide ${mono ? 'mono' : ''}`}
                spellCheck={!mono}
                value={value}
                list={options && `${id}-options`}
                aria-describedby={note && `${id}-note`}
                onChange={(event) => onValue(event.target.value)}
            />
            {options && (
                <datalist id={`${id}-options`}>
                    {options.map((one) => (
                        <option key={one} value={one} />
                    ))}
                </datalist>
            )}
            {note && (
                <p id={`${id}-note`} className="soft">
                    {note}
                </p>
            )}
        </div>
    );
}

/** A field of several lines. */
export function Area({ label, value, onValue, mono = false }: FieldProps<string>) {
    const id = useId();

    return (
        <div>
            <label className="label" htmlFor={id}>
                {label}
            </label>
            <textarea
                id={id}
                className={`wide ${mono ? 'mono' : ''}`}
                rows={3}
                spellCheck={!mono}
                value={value}
                onChange={(event) => onValue(event.target.value)}
            />
        </div>
    );
}

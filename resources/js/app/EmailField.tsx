import { TextField } from '../parts/Field';

interface Props {
    value: string;
    error?: string;
    note?: string;
    autoFocus?: boolean;
    onChange: (value: string) => void;
}

/** The name of an account, as a browser remembers it. */
export function EmailField({ value, error, note, autoFocus, onChange }: Props) {
    return (
        <TextField
            label="E-mail address"
            type="email"
            name="email"
            autoComplete="username"
            autoFocus={autoFocus}
            value={value}
            error={error}
            note={note}
            onChange={(event) => onChange(event.target.value)}
        />
    );
}

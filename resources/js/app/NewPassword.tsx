import { useState } from 'react';
import { TextField } from '../parts/Field';
import { Tick } from '../parts/RuleBuilder';

interface Props {
    label?: string;
    value: string;
    error?: string;
    onChange: (value: string) => void;
}

/** A password that is made: with what is asked of it, and a way to see it while it is typed. */
export function NewPassword({ label = 'New password', value, error, onChange }: Props) {
    const [isShown, setShown] = useState(false);
    const length = [...value.normalize('NFKC')].length;

    return (
        <div className="space-y-1.5">
            <TextField
                label={label}
                type={isShown ? 'text' : 'password'}
                name="new-password"
                autoComplete="new-password"
                value={value}
                error={error}
                note={`At least 15 characters${length > 0 && length < 15 ? `, so far ${length}` : ''}. A few words in a row are easy to remember; spaces and all letters are fine.`}
                onChange={(event) => onChange(event.target.value)}
            />
            <Tick label="Show it" on={isShown} onChange={() => setShown(!isShown)} />
        </div>
    );
}

import type { ReactNode } from 'react';
import type { SiteDraft } from '../api/sites';
import { TextField } from '../parts/Field';
import type { FieldErrors } from '../parts/fieldErrors';
import { CURRENCIES, ZONES } from './zones';

interface Props {
    draft: Pick<SiteDraft, 'time_zone' | 'currency'>;
    errors: FieldErrors;
    set: (change: Partial<Pick<SiteDraft, 'time_zone' | 'currency'>>) => void;
    /** Since when each is as it is. */
    notes?: { time_zone?: ReactNode; currency?: ReactNode };
}

/** Where days begin, and what money is. */
export function ZoneAndCurrency({ draft, errors, set, notes = {} }: Props) {
    return (
        <div className="grid gap-4 sm:grid-cols-2">
            <TextField
                label="Time zone"
                list="zones"
                value={draft.time_zone}
                error={errors.time_zone}
                note={<>Days begin and end in it, and every time is shown in it. {notes.time_zone}</>}
                onChange={(event) => set({ time_zone: event.target.value })}
            />
            <datalist id="zones">
                {ZONES.map((zone) => (
                    <option key={zone} value={zone} />
                ))}
            </datalist>
            <TextField
                label="Currency"
                list="currencies"
                className="font-mono"
                value={draft.currency}
                error={errors.currency}
                note={<>Values in another one are not added up. {notes.currency}</>}
                onChange={(event) => set({ currency: event.target.value.toUpperCase() })}
            />
            <datalist id="currencies">
                {CURRENCIES.map((one) => (
                    <option key={one} value={one} />
                ))}
            </datalist>
        </div>
    );
}

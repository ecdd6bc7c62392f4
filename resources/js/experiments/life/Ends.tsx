import type { Experiment } from '../../api/client';
import { Button } from '../../parts/Button';
import { TextField } from '../../parts/Field';
import { count } from '../../parts/figures';

export interface EndsForm {
    /** As a clock of the site shows it, `2026-03-29T09:30`; empty for no time. */
    end: string;
    visitors: string;
}

export const endsOf = (experiment: Experiment, zone: string): EndsForm => ({
    end: clockOf(experiment.end_at, zone),
    visitors: experiment.end_visitors === null ? '' : String(experiment.end_visitors),
});

/** A moment as a clock of the time zone shows it, for a field of date and time. */
export function clockOf(at: string | null | undefined, zone: string): string {
    if (!at) {
        return '';
    }
    const parts = Object.fromEntries(
        new Intl.DateTimeFormat('en-CA', {
            timeZone: zone,
            year: 'numeric',
            month: '2-digit',
            day: '2-digit',
            hour: '2-digit',
            minute: '2-digit',
            hourCycle: 'h23',
        })
            .formatToParts(new Date(at))
            .map(({ type, value }) => [type, value]),
    );

    return `${parts.year}-${parts.month}-${parts.day}T${parts.hour}:${parts.minute}`;
}

interface Props {
    form: EndsForm;
    onChange: (form: EndsForm) => void;
    errors: Record<string, string>;
    zone: string;
    /** How many visitors its plan takes; null where there is none. */
    planned: number | null;
}

/** When it ends by itself: at a time, or with a number of visitors. */
export function Ends({ form, onChange, errors, zone, planned }: Props) {
    return (
        <div className="flex flex-wrap gap-3">
            <TextField
                label={`End (${zone})`}
                type="datetime-local"
                value={form.end}
                error={errors.end}
                note="Empty: somebody ends it."
                onChange={(event) => onChange({ ...form, end: event.target.value })}
            />
            <TextField
                label="Or with so many visitors"
                inputMode="numeric"
                className="max-w-32"
                value={form.visitors}
                error={errors.end_visitors}
                onChange={(event) => onChange({ ...form, visitors: event.target.value.replace(/\D/g, '') })}
            />
            {planned !== null && String(planned) !== form.visitors && (
                <Button className="self-end" onClick={() => onChange({ ...form, visitors: String(planned) })}>
                    As planned: {count(planned)}
                </Button>
            )}
        </div>
    );
}

import { useState } from 'react';
import type { Experiment } from '../../api/client';
import { useTimetable } from '../../api/life';
import { usePlan } from '../../api/plans';
import { useSite } from '../../api/queries';
import { useSiteKey } from '../../app/address';
import { TextField } from '../../parts/Field';
import { fieldErrors } from '../../parts/fieldErrors';
import { Question } from '../../parts/Question';
import { clockOf, Ends, endsOf } from './Ends';

/** When it starts and ends by itself, while that is still to come. */
export function TimesQuestion({ experiment, open, onClose }: { experiment: Experiment; open: boolean; onClose: () => void }) {
    const site = useSiteKey();
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    const times = useTimetable(site, experiment.key);
    const plan = usePlan(site, experiment.key).data;
    const [start, setStart] = useState(clockOf(experiment.start_at, zone));
    const [ends, setEnds] = useState(endsOf(experiment, zone));
    const [notes, setNotes] = useState<string[]>([]);
    const errors = fieldErrors(times.error);

    return (
        <Question
            open={open}
            title={`Times of “${experiment.name}”`}
            yes={notes.length > 0 ? 'Understood' : 'Keep the times'}
            busy={times.isPending}
            error={Object.keys(errors).length === 0 ? times.error?.message : undefined}
            onYes={() =>
                notes.length > 0
                    ? onClose()
                    : times.mutate(
                          { start: start || null, end: ends.end || null, end_visitors: ends.visitors ? Number(ends.visitors) : null },
                          { onSuccess: (kept) => (kept.notes.length > 0 ? setNotes(kept.notes) : onClose()) },
                      )
            }
            onNo={onClose}
        >
            {experiment.state === 'scheduled' && (
                <TextField
                    label={`Start (${zone})`}
                    type="datetime-local"
                    value={start}
                    error={errors.start}
                    onChange={(event) => setStart(event.target.value)}
                />
            )}
            <Ends
                form={ends}
                onChange={setEnds}
                errors={errors}
                zone={zone}
                planned={plan?.outcome.exact?.total ?? plan?.outcome.total ?? null}
            />
            {notes.map((note) => (
                <p key={note} className="border-l-3 border-doubt pl-2">
                    {note}
                </p>
            ))}
        </Question>
    );
}

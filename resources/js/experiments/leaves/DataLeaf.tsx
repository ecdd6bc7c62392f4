import { TextArea, TextField } from '../../parts/Field';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { Row } from '../links/Row';
import type { LeafSides } from './Editor';

/** Data: how long it is meant to run, how long a variant is kept, and notes; beside them, what does not fit together. */
export function DataLeaf({ site, editor: { draft, set, errors }, advice }: LeafSides) {
    return (
        <>
            <Row
                declared={
                    <div className="flex flex-wrap gap-4 py-1">
                        <TextField
                            label="Planned run in days"
                            inputMode="numeric"
                            className="max-w-28"
                            value={draft.planned}
                            error={errors.planned_days}
                            onChange={(event) => set({ planned: event.target.value })}
                        />
                        <TextField
                            label="Days that a variant is kept"
                            inputMode="numeric"
                            className="max-w-28"
                            placeholder={String(site.cookie_days)}
                            value={draft.lifetime}
                            error={errors.lifetime_days}
                            onChange={(event) => set({ lifetime: event.target.value })}
                        />
                    </div>
                }
                observed={
                    <div className="py-1">
                        <p className="text-sm text-soft">
                            A visitor’s cookie lasts for {site.cookie_days} days on this site; where nothing is typed, a variant is kept as
                            long.
                        </p>
                        <AdviceList advice={adviceOn(advice.result?.advice ?? [], 'lifetime_days', 'planned_days')} />
                    </div>
                }
            />
            <Row
                last
                declared={
                    <div className="py-1">
                        <TextArea
                            label="Notes"
                            rows={4}
                            value={draft.notes}
                            error={errors.notes}
                            maxLength={10_000}
                            onChange={(event) => set({ notes: event.target.value })}
                        />
                    </div>
                }
                observed={
                    <p className="py-1 text-sm text-soft">
                        For whoever works on it after you: what was agreed, with whom, and where more is written.
                    </p>
                }
            />
        </>
    );
}

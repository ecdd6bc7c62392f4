import { Choice } from '../../../parts/Choice';
import { plural } from '../../../parts/figures';
import { Row } from '../../links/Row';
import { isRate } from '../planForm';
import { PlanNumber } from './PlanNumber';
import type { PlanSides } from './PlanSides';

/** The effect that is to be found, or the margin that a guardrail is to keep within. */
export function WantedRow({ form, set, errors, followed }: PlanSides) {
    const inPoints = isRate(form) ? 'points' : 'as a difference';
    const outcome = followed?.outcome;

    return (
        <Row
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <div className="w-56">
                        <Choice
                            label="What is to be found"
                            value={form.aim}
                            options={[
                                { value: 'effect', label: 'A change of at least' },
                                { value: 'margin', label: 'That it is not worse by' },
                            ]}
                            onChange={(aim) => set({ aim, sides: aim === 'margin' ? '1' : '2' })}
                        />
                    </div>
                    <PlanNumber
                        form={form}
                        set={set}
                        name="effect"
                        label="Size"
                        hideLabel
                        error={errors.lift ?? errors.points ?? errors.margin}
                    />
                    {form.aim === 'effect' ? (
                        <div className="w-44">
                            <Choice
                                label="Unit"
                                value={form.unit}
                                options={[
                                    { value: 'lift', label: '% of the baseline' },
                                    { value: 'points', label: inPoints },
                                ]}
                                onChange={(unit) => set({ unit })}
                            />
                        </div>
                    ) : (
                        <span className="pb-1.5">{isRate(form) ? 'points or more' : 'or more'}</span>
                    )}
                </div>
            }
            observed={
                <div className="py-1">
                    {outcome && (
                        <>
                            <p className="font-semibold" data-figure="plan">
                                {outcome.words}
                            </p>
                            {outcome.per_variant && (
                                <p className="text-sm text-soft">
                                    {plural(outcome.exact?.total ?? outcome.total ?? 0, 'visitor')} in all
                                    {outcome.days !== null && `, in ${plural(outcome.days, 'day')}`}.
                                </p>
                            )}
                        </>
                    )}
                </div>
            }
        />
    );
}

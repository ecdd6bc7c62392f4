import { Row } from '../../links/Row';
import { PlanNumber } from './PlanNumber';
import type { PlanSides } from './PlanSides';

/** How long it is to run. */
export function RunRow({ form, set, errors, followed }: PlanSides) {
    const outcome = followed?.outcome;

    return (
        <Row
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <PlanNumber
                        form={form}
                        set={set}
                        name="weeks"
                        label="Run in weeks"
                        placeholder={outcome?.weeks ? String(outcome.weeks) : ''}
                        error={errors.days}
                    />
                    <p className="pb-1.5 text-sm text-soft">Empty: as long as it takes.</p>
                </div>
            }
            observed={
                <div className="space-y-1 py-1">
                    {outcome?.warnings.map(({ code, words }) => (
                        <p key={code} data-caution={code} className="border-l-3 border-doubt pl-2">
                            {words}
                        </p>
                    ))}
                    {outcome && outcome.warnings.length === 0 && <p className="text-soft">Nothing speaks against it.</p>}
                </div>
            }
        />
    );
}

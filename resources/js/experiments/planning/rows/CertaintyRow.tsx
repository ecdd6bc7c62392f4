import { Choice } from '../../../parts/Choice';
import { Row } from '../../links/Row';
import { PlanNumber } from './PlanNumber';
import type { PlanSides } from './PlanSides';

/** How rarely it may be wrong. */
export function CertaintyRow({ form, set, errors, experiment, followed }: PlanSides) {
    const several = experiment.variants.filter(({ weight }) => weight > 0).length > 2;

    return (
        <Row
            last
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <PlanNumber form={form} set={set} name="alpha" label="Level in %" error={errors.alpha} />
                    <PlanNumber form={form} set={set} name="power" label="Power in %" error={errors.power} />
                    <div className="w-40">
                        <Choice
                            label="Sides"
                            value={form.sides}
                            options={[
                                { value: '2', label: 'either way' },
                                { value: '1', label: 'one way alone' },
                            ]}
                            onChange={(sides) => set({ sides })}
                        />
                    </div>
                    {several && (
                        <div className="w-56">
                            <Choice
                                label="Several variants"
                                value={form.comparisons}
                                options={[
                                    { value: 'holm', label: 'corrected by Holm' },
                                    { value: 'none', label: 'each at the whole level' },
                                ]}
                                onChange={(comparisons) => set({ comparisons })}
                            />
                        </div>
                    )}
                </div>
            }
            observed={
                <ul className="list-disc py-1 pl-5 text-sm text-soft">
                    {followed?.outcome.assumptions.map((one) => (
                        <li key={one}>{one}</li>
                    ))}
                </ul>
            }
        />
    );
}

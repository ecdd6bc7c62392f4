import { Button } from '../../../parts/Button';
import { Choice } from '../../../parts/Choice';
import { plural } from '../../../parts/figures';
import { ReachProgress } from '../../known/ReachView';
import { Row } from '../../links/Row';
import { isRate, type PlanMeasure } from '../planForm';
import { PlanNumber } from './PlanNumber';
import type { PlanSides } from './PlanSides';

const MEASURES: Record<PlanMeasure, string> = {
    rate: 'part of the visitors who reach it',
    value: 'value a visitor',
    bounce: 'part of the visitors who view one page and no more',
    engaged: 'seconds of attention a visitor',
};

/** What is compared, and what it is today. */
export function ComparedRow({ form, set, errors, experiment, basis, found, follow }: PlanSides) {
    const known = basis.result;
    const measures = (Object.keys(MEASURES) as PlanMeasure[]).filter(
        (one) => experiment.goals.length > 0 || one === 'bounce' || one === 'engaged',
    );
    const ofGoal = form.measure === 'rate' || form.measure === 'value';

    return (
        <Row
            declared={
                <div className="space-y-2 py-1">
                    <div className="flex flex-wrap gap-2">
                        {ofGoal && experiment.goals.length > 0 && (
                            <div className="w-60">
                                <Choice
                                    label="Goal"
                                    value={form.goal}
                                    options={experiment.goals.map(({ key, name, role }) => ({ value: key, label: `${name} (${role})` }))}
                                    onChange={(goal) => set({ goal })}
                                />
                            </div>
                        )}
                        <div className="w-64">
                            <Choice
                                label="Measure"
                                value={form.measure}
                                options={measures.map((value) => ({ value, label: MEASURES[value] }))}
                                onChange={(measure) => set({ measure, goal: form.goal || (experiment.goals[0]?.key ?? '') })}
                            />
                        </div>
                    </div>
                    <div className="flex flex-wrap gap-3">
                        <PlanNumber
                            form={form}
                            set={set}
                            name="baseline"
                            label={isRate(form) ? 'Baseline in %' : 'Mean of a visitor'}
                            error={errors.baseline ?? errors.mean}
                        />
                        {!isRate(form) && <PlanNumber form={form} set={set} name="sd" label="Standard deviation" error={errors.sd} />}
                    </div>
                </div>
            }
            observed={
                <div className="py-1" data-basis={known ? 'there' : 'waiting'}>
                    <ReachProgress reach={basis} />
                    {known && !basis.isRunning && (
                        <>
                            {found ? (
                                <p>
                                    <strong data-figure="baseline">{found.words}</strong> in the last 28 days.{' '}
                                    {found.baseline === '' && 'No plan can begin there: type what you expect, or choose another goal. '}
                                    {found.baseline !== '' &&
                                        (found.baseline !== form.baseline || (!isRate(form) && found.sd !== form.sd)) && (
                                            <Button className="ml-1" onClick={follow}>
                                                Take these
                                            </Button>
                                        )}
                                </p>
                            ) : (
                                <p>
                                    {known.visitors === 0
                                        ? 'Nobody would have entered in the last 28 days: type what you know.'
                                        : 'Nothing of that kind was recorded: type what you know.'}
                                </p>
                            )}
                            <p className="text-sm text-soft">
                                Of exactly these pages and this audience, from the view that would have let a visitor in.
                                {known.unknown > 0 &&
                                    ` Of ${plural(known.unknown, 'further visitor')} the records do not tell whether they belong.`}
                                {known.partial && ' Only the visitors who came last were looked at.'}
                            </p>
                        </>
                    )}
                </div>
            }
        />
    );
}

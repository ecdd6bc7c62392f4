import type { Experiment } from '../../api/client';
import type { Trial } from '../../api/experiments';
import type { PlanBasis, PlanFollowed } from '../../api/plans';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { count, percent, plural } from '../../parts/figures';
import { Row } from '../links/Row';
import { ReachProgress } from '../known/ReachView';
import { isRate, type measured, type PlanForm, type PlanMeasure } from './planForm';

export interface PlanSides {
    form: PlanForm;
    set: (change: Partial<PlanForm>) => void;
    errors: Record<string, string>;
    experiment: Experiment;
    basis: Trial<PlanBasis>;
    found: ReturnType<typeof measured>;
    /** Takes what was measured again. */
    follow: () => void;
    followed: PlanFollowed | null;
}

const MEASURES: Record<PlanMeasure, string> = {
    rate: 'part of the visitors who reach it',
    value: 'value a visitor',
    bounce: 'part of the visitors who view one page and no more',
    engaged: 'seconds of attention a visitor',
};

/** What is compared, and what it is today. */
export function Compared({ form, set, errors, experiment, basis, found, follow }: PlanSides) {
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
                        <TextField
                            label={isRate(form) ? 'Baseline in %' : 'Mean of a visitor'}
                            inputMode="decimal"
                            className="max-w-28"
                            value={form.baseline}
                            error={errors.baseline ?? errors.mean}
                            onChange={(event) => set({ baseline: event.target.value })}
                        />
                        {!isRate(form) && (
                            <TextField
                                label="Standard deviation"
                                inputMode="decimal"
                                className="max-w-28"
                                value={form.sd}
                                error={errors.sd}
                                onChange={(event) => set({ sd: event.target.value })}
                            />
                        )}
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

/** The effect that is to be found, or the margin that a guardrail is to keep within. */
export function Wanted({ form, set, errors, followed }: PlanSides) {
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
                    <TextField
                        label="Size"
                        hideLabel
                        inputMode="decimal"
                        className="max-w-24"
                        value={form.effect}
                        error={errors.lift ?? errors.points ?? errors.margin}
                        onChange={(event) => set({ effect: event.target.value })}
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

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** How many visitors come. */
export function Traffic({ form, set, errors, experiment, basis }: PlanSides) {
    const known = basis.result;
    const most = Math.max(1, ...(known?.weekdays.map(({ visitors }) => visitors) ?? []));

    return (
        <Row
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <div className="w-56">
                        <Choice
                            label="Traffic"
                            value={form.traffic}
                            options={[
                                { value: 'measured', label: 'Visitors as measured' },
                                { value: 'daily', label: 'Another number a day' },
                            ]}
                            onChange={(traffic) => set({ traffic })}
                        />
                    </div>
                    {form.traffic === 'daily' && (
                        <TextField
                            label="Visitors a day"
                            inputMode="decimal"
                            className="max-w-28"
                            value={form.daily}
                            error={errors.daily}
                            onChange={(event) => set({ daily: event.target.value })}
                        />
                    )}
                    <p className="pb-1.5 text-sm text-soft">
                        {percent(experiment.share, 0)} of them enter, divided as{' '}
                        {experiment.variants.map(({ weight }) => weight).join(' : ')}.
                    </p>
                </div>
            }
            observed={
                <div className="py-1">
                    {known && (
                        <>
                            <p>
                                {known.within.map((visitors, i) => (
                                    <span key={i}>
                                        {i > 0 && ', '}
                                        <strong>{count(visitors)}</strong>
                                    </span>
                                ))}{' '}
                                different visitors within 1, 2, 3 and 4 weeks; each later week is taken to bring as many new ones as the
                                fourth.
                            </p>
                            <table className="mt-1 text-sm">
                                <caption className="sr-only">Visitors by weekday, in four weeks</caption>
                                <thead className="sr-only">
                                    <tr>
                                        {WEEKDAYS.map((day) => (
                                            <th key={day}>{day}</th>
                                        ))}
                                    </tr>
                                </thead>
                                <tbody>
                                    <tr>
                                        {known.weekdays.map((day, i) => (
                                            <td key={i} className="w-14 pr-2 align-bottom">
                                                <span
                                                    aria-hidden="true"
                                                    className="block bg-accent"
                                                    style={{ height: `${Math.round((22 * day.visitors) / most)}px` }}
                                                />
                                                {count(day.visitors)}
                                                <span aria-hidden="true" className="block text-xs text-soft">
                                                    {WEEKDAYS[i]}
                                                </span>
                                            </td>
                                        ))}
                                    </tr>
                                </tbody>
                            </table>
                        </>
                    )}
                </div>
            }
        />
    );
}

/** How long it is to run. */
export function Run({ form, set, errors, followed }: PlanSides) {
    const outcome = followed?.outcome;

    return (
        <Row
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <TextField
                        label="Run in weeks"
                        inputMode="decimal"
                        className="max-w-24"
                        placeholder={outcome?.weeks ? String(outcome.weeks) : ''}
                        value={form.weeks}
                        error={errors.days}
                        onChange={(event) => set({ weeks: event.target.value })}
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

/** How rarely it may be wrong. */
export function Certainty({ form, set, errors, experiment, followed }: PlanSides) {
    const several = experiment.variants.filter(({ weight }) => weight > 0).length > 2;

    return (
        <Row
            last
            declared={
                <div className="flex flex-wrap items-end gap-3 py-1">
                    <TextField
                        label="Level in %"
                        inputMode="decimal"
                        className="max-w-20"
                        value={form.alpha}
                        error={errors.alpha}
                        onChange={(event) => set({ alpha: event.target.value })}
                    />
                    <TextField
                        label="Power in %"
                        inputMode="decimal"
                        className="max-w-20"
                        value={form.power}
                        error={errors.power}
                        onChange={(event) => set({ power: event.target.value })}
                    />
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

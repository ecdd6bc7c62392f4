import type { Experiment, Schemas } from '../../api/client';
import type { PlanBasis, PlanDraft } from '../../api/plans';
import { number } from '../draft';

export type PlanMeasure = Schemas['PlanMeasure'];

/** A plan while it is being made: texts as they are typed; rates, effects on rates and levels in percent. */
export interface PlanForm {
    goal: string;
    measure: PlanMeasure;
    baseline: string;
    sd: string;
    /** Whether it is to be found that something got better, or that a guardrail did not get worse. */
    aim: 'effect' | 'margin';
    effect: string;
    unit: 'lift' | 'points';
    alpha: string;
    power: string;
    sides: '1' | '2';
    comparisons: 'holm' | 'none';
    traffic: 'measured' | 'daily';
    daily: string;
    weeks: string;
}

export const isRate = ({ measure }: Pick<PlanForm, 'measure'>): boolean => measure === 'rate' || measure === 'bounce';

export function emptyPlan(experiment: Experiment): PlanForm {
    const first = experiment.goals.find(({ role }) => role === 'primary') ?? experiment.goals[0];

    return {
        goal: first?.key ?? '',
        measure: first ? 'rate' : 'bounce',
        baseline: '',
        sd: '',
        aim: 'effect',
        effect: '10',
        unit: 'lift',
        alpha: '5',
        power: '80',
        sides: '2',
        comparisons: 'holm',
        traffic: 'measured',
        daily: '',
        weeks: '',
    };
}

/** As it was kept, to be changed. */
export function formOf(plan: PlanDraft, experiment: Experiment): PlanForm {
    const form = { ...emptyPlan(experiment), goal: plan.goal ?? '', measure: plan.measure ?? 'rate' };
    const scale = isRate(form) ? 100 : 1;
    const text = (value: number | null | undefined, by = 1): string => (value == null ? '' : String(Number((by * value).toPrecision(12))));

    return {
        ...form,
        baseline: text(plan.baseline ?? plan.mean, scale),
        sd: text(plan.sd),
        aim: plan.margin == null ? 'effect' : 'margin',
        unit: plan.points != null ? 'points' : 'lift',
        effect: plan.margin != null ? text(plan.margin, scale) : plan.points != null ? text(plan.points, scale) : text(plan.lift, 100),
        alpha: text(plan.alpha ?? 0.05, 100),
        power: text(plan.power ?? 0.8, 100),
        sides: (plan.sides ?? (plan.margin == null ? 2 : 1)) === 1 ? '1' : '2',
        comparisons: plan.comparisons ?? 'holm',
        traffic: plan.daily == null ? 'measured' : 'daily',
        daily: text(plan.daily),
        weeks: plan.days == null ? '' : text(plan.days, 1 / 7),
    };
}

/** The plan as the server gets it; null while something is no number yet. */
export function requestOf(form: PlanForm, experiment: Experiment, basis: PlanBasis | null): PlanDraft | null {
    const scale = isRate(form) ? 0.01 : 1;
    const value = (text: string, by = 1): number => Number((by * number(text)).toPrecision(12));
    const effect = form.aim === 'margin' || form.unit === 'points' ? value(form.effect, scale) : value(form.effect, 0.01);
    // The control first; whoever gets nobody is not compared.
    const taking = experiment.variants.filter(({ weight }) => weight > 0);
    const ordered = [...taking.filter(({ control }) => control), ...taking.filter(({ control }) => !control)];
    const within = form.traffic === 'measured' ? (basis?.within ?? null) : null;
    const plan: PlanDraft = {
        ...(form.goal && (form.measure === 'rate' || form.measure === 'value') ? { goal: form.goal } : {}),
        measure: form.measure,
        ...(isRate(form) ? { baseline: value(form.baseline, 0.01) } : { mean: value(form.baseline), sd: value(form.sd) }),
        ...(form.aim === 'margin' ? { margin: effect } : { [form.unit]: effect }),
        alpha: value(form.alpha, 0.01),
        power: value(form.power, 0.01),
        sides: Number(form.sides),
        comparisons: form.comparisons,
        weights: ordered.map(({ weight }) => weight),
        share: experiment.share,
        ...(form.traffic === 'daily' && form.daily.trim() ? { daily: value(form.daily) } : {}),
        ...(within && within[within.length - 1] > 0 ? { within } : {}),
        ...(form.weeks.trim() ? { days: Math.round(7 * value(form.weeks)) } : {}),
    };

    return Object.values(plan).some((one) => typeof one === 'number' && Number.isNaN(one)) ? null : plan;
}

/** What was measured of what is compared: as the form writes it; null where nothing was. */
export function measured(form: PlanForm, basis: PlanBasis | null): { baseline: string; sd: string; words: string } | null {
    if (!basis || basis.visitors === 0) {
        return null;
    }
    const goal = basis.goals.find(({ key }) => key === form.goal);
    const rate = form.measure === 'bounce' ? basis.bounce.rate : form.measure === 'rate' ? (goal?.rate ?? null) : null;
    const reached = form.measure === 'bounce' ? basis.bounce.bounced : (goal?.reached ?? 0);
    const spread = form.measure === 'engaged' ? basis.engaged : form.measure === 'value' ? (goal?.value ?? null) : null;
    if (rate !== null) {
        const did = form.measure === 'bounce' ? 'viewed one page and no more' : 'reached it';

        // Of nothing, or of everybody, no change can be planned.
        return {
            baseline: rate > 0 && rate < 1 ? short(100 * rate) : '',
            sd: '',
            words: `${short(100 * rate)} %: ${reached} of ${basis.visitors} visitors ${did}`,
        };
    }
    if (spread) {
        const unit = form.measure === 'engaged' ? ' s' : '';

        return {
            baseline: short(spread.mean),
            sd: short(spread.sd),
            words: `${short(spread.mean)}${unit} a visitor, standard deviation ${short(spread.sd)}${unit}, of ${basis.visitors} visitors`,
        };
    }

    return null;
}

function short(value: number): string {
    return String(Number(value.toPrecision(3)));
}

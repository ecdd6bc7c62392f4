import type { Experiment, ExperimentDraft, Schemas } from '../api/client';
import type { RuleJson } from '../parts/ruleRows';
import { asPathRule, type PathOp } from '../parts/rules';
import { changeMistakes, cleaned } from './changeDraft';

/** An experiment while it is being written: texts as they are typed. */
export interface Draft {
    name: string;
    hypothesis: string;
    pages: RuleJson;
    /** Who may enter; null for everybody. */
    audience: RuleJson | null;
    unit: 'visitor' | 'user';
    /** Key of the group of experiments that it shares no visitor with; empty for none. */
    group: string;
    /** Days that a visitor keeps its variant; empty for as long as its cookie lasts. */
    lifetime: string;
    trigger: Schemas['Trigger'] | null;
    share: string;
    variants: DraftVariant[];
    goals: DraftGoal[];
}

/** Either a goal of the site, by its key, or a new one: a page that is reached. */
export interface DraftGoal {
    key: string | null;
    role: Schemas['Role'];
    name: string;
    op: PathOp;
    path: string;
}

export interface DraftVariant {
    key: string;
    name: string;
    weight: string;
    /** One variant at most shows the page as it is. */
    control: boolean;
    changes: Schemas['Change'][];
}

const EMPTY_CHANGE: Schemas['Change'] = { kind: 'text', selector: '', value: '' };

export function emptyDraft(): Draft {
    return {
        name: '',
        hypothesis: '',
        pages: { fact: 'url.path', op: 'is', value: '' },
        audience: null,
        unit: 'visitor',
        group: '',
        lifetime: '',
        trigger: null,
        share: '100',
        variants: [
            { key: 'control', name: 'As it is', weight: '50', control: true, changes: [] },
            { key: 'variant-1', name: '', weight: '50', control: false, changes: [EMPTY_CHANGE] },
        ],
        goals: [nextGoal('primary')],
    };
}

export function nextGoal(role: Schemas['Role']): DraftGoal {
    return { key: null, role, name: '', op: 'is', path: '' };
}

export function draftOf(experiment: Experiment): Draft {
    return {
        name: experiment.name,
        hypothesis: experiment.hypothesis,
        pages: experiment.pages,
        audience: experiment.audience ?? null,
        unit: experiment.unit,
        group: experiment.group?.key ?? '',
        lifetime: experiment.lifetime_days ? String(experiment.lifetime_days) : '',
        trigger: experiment.trigger ?? null,
        share: String(experiment.share * 100),
        variants: experiment.variants.map((variant) => ({ ...variant, weight: String(variant.weight), control: variant.control ?? false })),
        goals: experiment.goals.map((goal) => ({ ...nextGoal(goal.role), key: goal.key, name: goal.name })),
    };
}

export function nextVariant(variants: DraftVariant[]): DraftVariant {
    let number = variants.length;
    while (variants.some((variant) => variant.key === `variant-${number}`)) {
        number++;
    }

    return { key: `variant-${number}`, name: '', weight: '50', control: false, changes: [EMPTY_CHANGE] };
}

export function nextChange(): Schemas['Change'] {
    return { ...EMPTY_CHANGE };
}

/** Number('') would be 0, and no number typed is not the number 0. */
export function number(text: string): number {
    return text.trim() === '' ? NaN : Number(text.replace(',', '.'));
}

/** A path is typed or pasted, often with a blank. */
function trimmed(rule: RuleJson): RuleJson {
    const path = asPathRule(rule);

    return path ? { ...rule, value: path.value.trim() } : rule;
}

export function requestOf(draft: Draft): ExperimentDraft {
    return {
        name: draft.name.trim(),
        hypothesis: draft.hypothesis.trim(),
        share: number(draft.share) / 100,
        pages: trimmed(draft.pages),
        audience: draft.audience,
        unit: draft.unit,
        group: draft.group.trim() === '' ? null : { key: draft.group.trim() },
        lifetime_days: draft.lifetime.trim() === '' ? null : number(draft.lifetime),
        trigger: draft.trigger,
        variants: draft.variants.map((variant) => ({
            key: variant.key,
            name: variant.name.trim() || variant.key,
            weight: number(variant.weight),
            control: variant.control,
            changes: variant.changes.map(cleaned),
        })),
        goals: draft.goals.map((goal) =>
            goal.key === null
                ? {
                      name: goal.name.trim(),
                      role: goal.role,
                      kind: 'page' as const,
                      pages: { fact: 'url.path', op: goal.op, value: goal.path.trim() },
                  }
                : { key: goal.key, role: goal.role },
        ),
    };
}

/** The part of all weights that each variant has; null while one is no number. */
export function parts(variants: DraftVariant[]): number[] | null {
    const weights = variants.map((variant) => number(variant.weight));
    const sum = weights.reduce((a, b) => a + b, 0);

    return weights.every((weight) => weight >= 0) && sum > 0 ? weights.map((weight) => weight / sum) : null;
}

/** Mistakes that can be told without asking the server, by field. */
export function mistakes(draft: Draft): Record<string, string> {
    const found: Record<string, string> = {};
    const request = requestOf(draft);
    if (!request.name) {
        found.name = 'Give the experiment a name.';
    }
    if (asPathRule(draft.pages)?.value.trim() === '') {
        found['pages.value'] = 'Type the path of the page, such as /catalogue.';
    }
    if (
        request.lifetime_days != null &&
        !(request.lifetime_days >= 1 && request.lifetime_days <= 400 && Number.isInteger(request.lifetime_days))
    ) {
        found.lifetime_days = 'A whole number of days is needed, from 1 to 400.';
    }
    if (!(request.share >= 0 && request.share <= 1)) {
        found.share = 'The share is a percentage from 0 to 100.';
    }
    if (request.group && !/^[a-z0-9][a-z0-9-]{0,59}$/.test(request.group.key)) {
        found['group.key'] = 'A group is named by small letters, digits and “-”, such as checkout.';
    }
    request.variants.forEach((variant, i) => {
        if (!(variant.weight >= 0)) {
            found[`variants.${i}.weight`] = 'A weight is a number that is not negative.';
        }
        variant.changes.forEach((change, j) => {
            const at = `variants.${i}.changes.${j}`;
            Object.entries(changeMistakes(change)).forEach(([field, message]) => (found[`${at}.${field}`] = message));
        });
    });
    draft.goals.forEach((goal, i) => {
        if (goal.key === null && !goal.name.trim()) {
            found[`goals.${i}.name`] = 'Give the goal a name.';
        }
        if (goal.key === null && !goal.path.trim()) {
            found[`goals.${i}.pages.value`] = 'Type the path of the page that counts, such as /join/done.';
        }
    });

    return found;
}

import type { Experiment, ExperimentDraft, Schemas } from '../api/client';
import { asPathRule, type PathOp } from '../parts/rules';
import { changeMistakes, cleaned } from './changeDraft';

/** An experiment while it is being written: texts as they are typed. */
export interface Draft {
    name: string;
    hypothesis: string;
    pageOp: PathOp;
    page: string;
    trigger: Schemas['Trigger'] | null;
    share: string;
    variants: DraftVariant[];
    goals: DraftGoal[];
    /** What the form does not show, and gives back as it was. */
    rest: Pick<ExperimentDraft, 'kind' | 'unit' | 'audience' | 'lifetime_days'>;
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
        pageOp: 'is',
        page: '',
        trigger: null,
        share: '100',
        variants: [
            { key: 'control', name: 'As it is', weight: '50', control: true, changes: [] },
            { key: 'variant-1', name: '', weight: '50', control: false, changes: [EMPTY_CHANGE] },
        ],
        goals: [nextGoal('primary')],
        rest: {},
    };
}

export function nextGoal(role: Schemas['Role']): DraftGoal {
    return { key: null, role, name: '', op: 'is', path: '' };
}

export function draftOf(experiment: Experiment): Draft {
    const page = asPathRule(experiment.pages);

    return {
        name: experiment.name,
        hypothesis: experiment.hypothesis,
        pageOp: page?.op ?? 'is',
        page: page?.value ?? '',
        trigger: experiment.trigger ?? null,
        share: String(experiment.share * 100),
        variants: experiment.variants.map((variant) => ({ ...variant, weight: String(variant.weight), control: variant.control ?? false })),
        goals: experiment.goals.map((goal) => ({ ...nextGoal(goal.role), key: goal.key, name: goal.name })),
        rest: {
            kind: experiment.kind === 'in_page' ? experiment.kind : undefined,
            unit: experiment.unit,
            audience: experiment.audience,
            lifetime_days: experiment.lifetime_days,
        },
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
function number(text: string): number {
    return text.trim() === '' ? NaN : Number(text.replace(',', '.'));
}

export function requestOf(draft: Draft): ExperimentDraft {
    return {
        ...draft.rest,
        name: draft.name.trim(),
        hypothesis: draft.hypothesis.trim(),
        share: number(draft.share) / 100,
        pages: { fact: 'url.path', op: draft.pageOp, value: draft.page.trim() },
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
    if (!draft.page.trim()) {
        found['pages.value'] = 'Type the path of the page, such as /catalogue.';
    }
    if (!(request.share >= 0 && request.share <= 1)) {
        found.share = 'The share is a percentage from 0 to 100.';
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

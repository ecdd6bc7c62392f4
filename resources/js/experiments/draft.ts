import type { Experiment, ExperimentDraft, LinkName, Schemas } from '../api/client';
import type { RuleJson } from '../parts/ruleRows';
import { asPathRule } from '../parts/rules';
import { changeMistakes, cleaned, nextChange, type Change } from './changeDraft';

export type HypothesisPart = keyof Schemas['HypothesisParts'];
export type Parts = Partial<Record<HypothesisPart, string>>;

/** An experiment while it is being written: texts as they are typed. */
export interface Draft {
    name: string;
    hypothesis: string;
    /** The hypothesis in parts, where it is written so. */
    parts: Parts | null;
    owner: string;
    notes: string;
    /** Apart by commas. */
    labels: string;
    kind: 'in_page' | 'redirect';
    pages: RuleJson;
    /** Who may enter; null for everybody. */
    audience: RuleJson | null;
    unit: 'visitor' | 'user';
    /** Key of the group of experiments that it shares no visitor with; empty for none. */
    group: string;
    /** Days that a visitor keeps its variant; empty for as long as its cookie lasts. */
    lifetime: string;
    /** Days that it is meant to run; empty where nobody has said. */
    planned: string;
    trigger: Schemas['Trigger'] | null;
    share: string;
    variants: DraftVariant[];
    goals: DraftGoal[];
}

/** A goal of the site, by its key. */
export interface DraftGoal {
    key: string;
    role: Schemas['Role'];
}

export interface DraftVariant {
    key: string;
    name: string;
    weight: string;
    /** One variant at most shows the page as it is. */
    control: boolean;
    changes: Change[];
    /** Where it leads to, in a redirect test. */
    target: string;
    /** Stopped, and its visitors are given others. */
    moves?: boolean;
}

/** A draft as "Make an experiment" begins it: the page as it is, beside a variant with its first change. */
export function emptyDraft(): Draft {
    return {
        name: '',
        hypothesis: '',
        parts: null,
        owner: '',
        notes: '',
        labels: '',
        kind: 'in_page',
        pages: { fact: 'url.path', op: 'is', value: '' },
        audience: null,
        unit: 'visitor',
        group: '',
        lifetime: '',
        planned: '',
        trigger: null,
        share: '100',
        variants: [
            { key: 'control', name: 'As it is', weight: '50', control: true, changes: [], target: '' },
            { ...nextVariant([]), key: 'variant-1' },
        ],
        goals: [],
    };
}

type Kept = Partial<Omit<Experiment, 'variants' | 'goals' | 'hypothesis_parts'>> & {
    variants?: Partial<Schemas['Variant']>[];
    goals?: { key?: string; role?: Schemas['Role'] }[];
    hypothesis_parts?: Parts | null;
};

/** An experiment as it is to be edited: as it was written last, finished or not. */
export function draftOf(experiment: Experiment): Draft {
    const kept: Kept = (experiment.unfinished as Kept | null) ?? experiment;

    return {
        name: kept.name ?? '',
        hypothesis: kept.hypothesis ?? '',
        parts: kept.hypothesis_parts ?? null,
        owner: kept.owner ?? '',
        notes: kept.notes ?? '',
        labels: (kept.labels ?? []).join(', '),
        kind: kept.kind === 'redirect' ? 'redirect' : 'in_page',
        pages: kept.pages ?? { all: [] },
        audience: kept.audience ?? null,
        unit: kept.unit === 'user' ? 'user' : 'visitor',
        group: kept.group?.key ?? '',
        lifetime: text(kept.lifetime_days),
        planned: text(kept.planned_days),
        trigger: kept.trigger ?? null,
        share: kept.share == null ? '' : String(Math.round(kept.share * 1e6) / 1e4),
        variants: (kept.variants ?? []).map((variant) => ({
            key: variant.key ?? '',
            // The key stands in for a name that nobody has given.
            name: variant.name === variant.key ? '' : (variant.name ?? ''),
            weight: text(variant.weight),
            control: variant.control ?? false,
            changes: variant.changes ?? [],
            target: variant.target ?? '',
            moves: variant.moves ?? false,
        })),
        goals: (kept.goals ?? []).flatMap(({ key, role }) => (key ? [{ key, role: role ?? 'secondary' }] : [])),
    };
}

function text(value: number | null | undefined): string {
    return value == null ? '' : String(value);
}

export function nextVariant(variants: DraftVariant[]): DraftVariant {
    let number = Math.max(1, variants.length);
    while (variants.some((variant) => variant.key === `variant-${number}`)) {
        number++;
    }

    return { key: `variant-${number}`, name: '', weight: '50', control: false, changes: [nextChange()], target: '' };
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

/** The draft as the server gets it; what is no number yet is null there. */
export function requestOf(draft: Draft): ExperimentDraft {
    const isRedirect = draft.kind === 'redirect';

    return {
        name: draft.name.trim(),
        // Parts that say something are the hypothesis; until then the text stays.
        hypothesis: Object.values(draft.parts ?? {}).some((part) => part?.trim()) ? '' : draft.hypothesis.trim(),
        hypothesis_parts: draft.parts,
        owner: draft.owner.trim(),
        notes: draft.notes.trim(),
        labels: labelsOf(draft),
        kind: draft.kind,
        share: number(draft.share) / 100,
        pages: trimmed(draft.pages),
        audience: draft.audience,
        unit: draft.unit,
        group: draft.group.trim() === '' ? null : { key: draft.group.trim() },
        lifetime_days: draft.lifetime.trim() === '' ? null : number(draft.lifetime),
        planned_days: draft.planned.trim() === '' ? null : number(draft.planned),
        trigger: draft.trigger,
        variants: draft.variants.map((variant) => ({
            key: variant.key,
            name: variant.name.trim() || variant.key,
            weight: number(variant.weight),
            control: variant.control,
            changes: isRedirect || variant.control ? [] : variant.changes.map(cleaned),
            ...(isRedirect && !variant.control ? { target: variant.target.trim() } : {}),
            ...(variant.moves && number(variant.weight) === 0 ? { moves: true } : {}),
        })),
        goals: draft.goals,
    };
}

export function labelsOf(draft: Pick<Draft, 'labels'>): string[] {
    return [
        ...new Set(
            draft.labels
                .split(',')
                .map((label) => label.trim())
                .filter(Boolean),
        ),
    ];
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
    for (const [field, days] of [
        ['lifetime_days', request.lifetime_days],
        ['planned_days', request.planned_days],
    ] as const) {
        if (days != null && !(days >= 1 && days <= 400 && Number.isInteger(days))) {
            found[field] = 'A whole number of days is needed, from 1 to 400.';
        }
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
        if (draft.kind === 'redirect' && !variant.control && !variant.target) {
            found[`variants.${i}.target`] = 'Type the address that this variant leads to, such as /loan-new.';
        }
        variant.changes.forEach((change, j) => {
            const at = `variants.${i}.changes.${j}`;
            Object.entries(changeMistakes(change)).forEach(([field, message]) => (found[`${at}.${field}`] = message));
        });
    });

    return found;
}

/** The link of the chain where a field is written; null for what is said of the whole. */
export function linkOf(field: string): LinkName | null {
    const [first, , part] = field.split('.');
    switch (first) {
        case 'pages':
        case 'trigger':
        case 'kind':
            return 'page';
        case 'audience':
        case 'share':
        case 'unit':
        case 'group':
            return 'entry';
        case 'variants':
            return part === 'changes' || part === 'target' ? 'exposure' : 'split';
        case 'goals':
            return 'goals';
        case 'lifetime_days':
        case 'planned_days':
        case 'notes':
            return 'data';
        default:
            return null;
    }
}

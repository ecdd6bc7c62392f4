import type { Schemas } from '../api/client';
import { inWords } from '../parts/ruleRows';
import { GOAL_KINDS } from '../parts/vocabulary';

export type GoalDraft = Schemas['GoalDraft'] & { kind: GoalKind };
export type GoalFields = Schemas['GoalFields'];
export type GoalStep = Schemas['GoalStep'];
export type GoalKind = Schemas['GoalKind'];

export const KINDS = GOAL_KINDS;

export const STEP_KINDS = Object.fromEntries(Object.entries(KINDS).filter(([kind]) => kind !== 'steps')) as Record<
    GoalStep['kind'],
    string
>;

type Count = NonNullable<GoalFields['count']>;

export const COUNTS: Record<Count, string> = {
    visitor: 'once a visitor',
    session: 'once a session',
    every: 'every time',
};

export function countInWords(goal: GoalFields): string {
    return COUNTS[goal.count ?? 'every'];
}

/** What counts, in words: of a goal or of one step of a sequence. */
export function goalInWords(goal: GoalFields | GoalStep): string {
    const on = goal.pages && inWords(goal.pages) !== 'always' ? ` where ${inWords(goal.pages)}` : '';
    const when = goal.when && inWords(goal.when) !== 'always' ? ` with ${inWords(goal.when)}` : '';
    switch (goal.kind) {
        case 'page':
            return `page reached${on}`;
        case 'click':
            return `click on ${goal.selector}${on}`;
        case 'form':
            return `form ${goal.selector} sent${on}`;
        case 'seen':
            return `${goal.selector} seen${on}`;
        case 'event':
            return `event ${goal.event}${when}${on}`;
        case 'order':
            return `order${when}${on}`;
        case 'engaged':
            return `${goal.seconds} s engaged on a page${on}`;
        case 'scroll':
            return `page scrolled to ${goal.percent} %${on}`;
        case 'steps': {
            const { steps = [], within } = goal as GoalFields;
            const listed = steps.map((step) => goalInWords(step) + (step.optional ? ' (may be left out)' : '')).join(', then ');

            return within ? `${listed}, within ${duration(within)}` : listed;
        }
        default:
            return `${GOAL_KINDS[goal.kind ?? 'page'].toLowerCase()}${on}`;
    }
}

export function duration(seconds: number): string {
    if (seconds % 86400 === 0) {
        return `${seconds / 86400} d`;
    }

    return seconds % 60 === 0 ? `${seconds / 60} min` : `${seconds} s`;
}

/** What a kind needs to begin with; what does not belong to it is dropped. */
export function fieldsOf(kind: GoalKind, before: GoalFields): GoalFields {
    const pages = before.pages ?? (kind === 'page' ? { fact: 'url.path', op: 'is', value: '' } : { all: [] });
    const shared: GoalFields = { kind, count: before.count, value: before.value, currency: before.currency };
    switch (kind) {
        case 'page':
            return { ...shared, pages };
        case 'click':
        case 'form':
        case 'seen':
            return { ...shared, pages, selector: before.selector ?? '' };
        case 'event':
            return { ...shared, pages, event: before.event ?? '', when: before.when ?? { all: [] } };
        case 'order':
            return { ...shared, pages, when: before.when ?? { all: [] }, value: undefined };
        case 'engaged':
            return { ...shared, pages, seconds: before.seconds ?? 30 };
        case 'scroll':
            return { ...shared, pages, percent: before.percent ?? 75 };
        case 'steps':
            return {
                ...shared,
                steps: before.steps ?? [
                    { kind: 'page', pages },
                    { kind: 'page', pages: { fact: 'url.path', op: 'is', value: '' } },
                ],
                within: before.within,
            };
        default:
            return { ...shared, pages };
    }
}

import {
    ChangeKind,
    ChangePlace,
    ExclusionKind,
    Fact,
    GoalKind,
    LinkName,
    LinkState,
    LogbookThing,
    RehearsalScreen,
    SecurityMatter,
    TriggerKind,
    Wish,
} from '../../../docs/vocabulary.json';
import type { Schemas } from '../api/client';

/** Words that the core defines (docs/vocabulary.json), as the interface shows them. */

function labels<Word extends string>(words: Record<Word, { label: string }>): Record<Word, string> {
    return Object.fromEntries(Object.entries<{ label: string }>(words).map(([word, { label }]) => [word, label])) as Record<Word, string>;
}

/** `url.query.*` is `url.query.` while a rule is written: a name follows. */
const open = (fact: string): string => fact.replace('*', '');

export const FACTS = Object.entries(Fact['x-words']).map(([fact, { label, places, values }]) => ({
    fact: open(fact),
    label,
    places: places as Schemas['Place'][],
    isNamed: fact.endsWith('*'),
    /** All that it can be; none where there is no end of them. */
    values: (values as (string | boolean)[]).map(String),
}));

/** The facts that are known in a place, as rules name them. */
export function factsAt(place: Schemas['Place']): string[] {
    return FACTS.filter(({ places }) => places.includes(place)).map(({ fact }) => fact);
}

export const GOAL_KINDS = labels<Schemas['GoalKind']>(GoalKind['x-words']);
export const TRIGGER_KINDS = labels<Schemas['TriggerKind']>(TriggerKind['x-words']);
/** What a variant can do to a page: whether a selector says where, what else it takes, and whether it is code. */
export const CHANGE_KINDS = ChangeKind['x-words'] as Record<
    Schemas['ChangeKind'],
    { label: string; selector: boolean; members: (keyof Schemas['Change'])[]; code: boolean }
>;
export const CHANGE_PLACES = labels<Schemas['ChangePlace']>(ChangePlace['x-words']);
export const SECURITY_MATTERS = labels<Schemas['SecurityMatter']>(SecurityMatter['x-words']);
export const LOGBOOK_THINGS = LogbookThing['x-words'] as Record<Schemas['LogbookThing'], { label: string }>;
export const SCREENS = labels<Schemas['RehearsalScreen']>(RehearsalScreen['x-words']);
export const EXCLUSION_KINDS = labels<Schemas['ExclusionKind']>(ExclusionKind['x-words']);
export const WISHES = labels<Schemas['Wish']>(Wish['x-words']);
export const LINK_LABELS = labels<Schemas['LinkName']>(LinkName['x-words']);

/** The graver, the smaller. */
export function gravity(state: Schemas['LinkState']): number {
    return LinkState['x-words'][state].gravity;
}

import type { ExclusionRule } from '../api/audits';
import type { RuleJson } from '../parts/ruleRows';
import { EXCLUSION_KINDS } from '../parts/vocabulary';
import { inZone, localText } from './zoneTime';

type Kind = ExclusionRule['kind'];

export const KINDS = Object.entries(EXCLUSION_KINDS).map(([value, label]) => ({ value: value as Kind, label }));

export const kindWords = (kind: ExclusionRule['kind']): string => EXCLUSION_KINDS[kind].split(':')[0];

/** An exclusion as its form holds it: times as the site's clocks show them, visitors one a line. */
export interface ExclusionDraft {
    name: string;
    kind: ExclusionRule['kind'];
    /** How one's own people are told from visitors. */
    by: 'mark' | 'rule' | 'visitors';
    rule: RuleJson;
    visitors: string;
    from: string;
    to: string;
    reason: string;
    everywhere: boolean;
}

export const WAYS: { value: ExclusionDraft['by']; label: string }[] = [
    { value: 'mark', label: 'Whoever sends props.internal' },
    { value: 'rule', label: 'Whoever an event of fits a rule' },
    { value: 'visitors', label: 'Visitors with these ids' },
];

const NAMES: Record<ExclusionRule['kind'], string> = { internal: 'Internal traffic', bots: 'Bots', time: '', page: '' };

/** What the form begins with: what the address asks for, as buttons of findings and of the bar of parts do. */
export function draftIn(params: URLSearchParams, zone: string): ExclusionDraft {
    const kind = KINDS.find(({ value }) => value === params.get('kind'))?.value ?? 'internal';
    const time = (name: string): string => {
        const at = params.get(name);

        return at && !Number.isNaN(Date.parse(at)) ? localText(at, zone) : '';
    };
    const [host, ...path] = (params.get('page') ?? '').split('/');

    return {
        name: NAMES[kind],
        kind,
        rule: params.get('page')
            ? {
                  all: [
                      ...(host ? [{ fact: 'url.host', op: 'is', value: host }] : []),
                      { fact: 'url.path', op: 'is', value: `/${path.join('/')}` },
                  ],
              }
            : { all: [] },
        by: 'mark',
        visitors: '',
        from: time('from'),
        to: time('to'),
        reason: '',
        everywhere: kind === 'bots' || kind === 'internal',
    };
}

const isEmpty = (rule: RuleJson): boolean => JSON.stringify(rule) === '{"all":[]}';

/** As the server takes it. */
export function requestOf(draft: ExclusionDraft, zone: string): { exclusion: ExclusionRule; reason: string; everywhere: boolean } {
    const { name, kind, by, rule, reason, everywhere } = draft;
    const visitors = draft.visitors
        .split('\n')
        .map((one) => one.trim())
        .filter(Boolean);
    const moment = (local: string): string | undefined => (local ? inZone(local, zone) : undefined);
    const exclusion = {
        name: name.trim(),
        kind,
        ...(kind === 'page' || (kind === 'internal' && by === 'rule') ? { rule: isEmpty(rule) ? null : rule } : {}),
        ...(kind === 'internal' && by === 'visitors' ? { visitors } : {}),
        ...(kind === 'time' ? { from: moment(draft.from), to: moment(draft.to) } : {}),
    };

    return { exclusion: exclusion as ExclusionRule, reason, everywhere };
}

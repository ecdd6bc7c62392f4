import type { DecisionRule } from '../../api/readout';

export const DECIDED_BY: Record<NonNullable<DecisionRule['by']>, string> = {
    person: 'A person decides.',
    primary: 'The primary goal decides, at the planned end.',
    guarded: 'The primary goal decides, at the planned end, unless a guardrail falls below its margin.',
};

/** A declared rule in a sentence or two. */
export function ruleInWords(rule: DecisionRule | null): string {
    const by = rule?.by ?? 'person';

    return [
        DECIDED_BY[by],
        ...(by === 'person' ? [] : [rule?.acts ? 'Pellix acts on it.' : 'Pellix proposes, and a person confirms.']),
        ...(rule?.earlier_days ? [`What visitors did in the ${rule.earlier_days} days before is taken off, and shown beside.`] : []),
    ].join(' ');
}

/** A number as somebody types it; null for none, undefined for no number. */
export function typed(text: string): number | null | undefined {
    const plain = text.trim().replace(',', '.');
    if (plain === '') {
        return null;
    }

    return /^\d+(\.\d+)?$/.test(plain) ? Number(plain) : undefined;
}

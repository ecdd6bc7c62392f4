import type { AuditFinding, Behind, ReadAudit } from '../api/audits';
import { address } from '../app/address';

export interface Door {
    label: string;
    to: string;
    main?: boolean;
}

/** Which view shows what a finding is about. */
const VIEW_OF: [RegExp, string, string][] = [
    [/^srm\.stage/, 'stages', 'See the stages'],
    [/^srm\.segment/, 'segments', 'See who is missing'],
    [/^(srm|epoch\.weights)/, 'split', 'See the split over time'],
    [/^assign\.(mismatch|switched|outside)/, 'segments', 'See who is missing'],
    [/^exposure/, 'stages', 'See the stages'],
    [/^gap\.(late|clock)/, 'delays', 'See the delays'],
    [/^gap/, 'volume', 'See the volume'],
    [/^goal\.(silent|dropped|never)/, 'volume', 'See the volume'],
    [/^order/, 'orders', 'See the orders'],
];

const BEHIND: Record<string, Behind> = {
    'assign.mismatch': 'wrong-variant',
    'assign.switched': 'switched',
    'assign.unknown-variant': 'unknown-variant',
    'exposure.missing': 'missing',
    'exposure.late': 'hits-before',
    'exposure.without-page': 'pageless',
    'goal.silent': 'hits',
    'goal.dropped': 'hits',
    'goal.duplicate': 'hits-again',
    'goal.no-value': 'hits-without-value',
    'order.outlier': 'orders',
    'order.duplicate-id': 'orders',
    'order.currency': 'orders',
    'order.value-shape': 'orders',
    'gap.late': 'late',
    'gap.clock': 'clocks',
    'event.duplicate-id': 'copies',
    'event.double-fired': 'twice',
    'event.off-plan': 'off-plan',
    'event.bot': 'bots',
    'event.internal': 'internal',
    'event.self-referral': 'referred',
    'event.personal-data': 'personal',
    'event.clock-order': 'disorder',
};

/** The number of the audit that a finding is about; null where it is about none. */
function behindOf({ code, numbers }: AuditFinding): Behind | null {
    const told = numbers as { reason?: string; stage?: string } | null;
    if (code === 'assign.outside') {
        return `outside-${told?.reason ?? 'page'}` as Behind;
    }
    if (code === 'srm.stage') {
        return (told?.stage ?? 'exposed') as Behind;
    }

    return code.startsWith('srm.') ? 'exposed' : (BEHIND[code] ?? null);
}

/** What of a finding can be left out of audits, where that is a way to go on. */
function leftOut({ code, since, until }: AuditFinding): { label: string; params: Record<string, string> } | null {
    if (code === 'event.bot') {
        return { label: 'Leave these bots out', params: { kind: 'bots' } };
    }
    if (code === 'event.internal' || code === 'order.outlier') {
        return { label: 'Mark internal traffic', params: { kind: 'internal' } };
    }
    if (since && until && /^(gap\.(silence|drop|clock)|srm\.onset|goal\.dropped)$/.test(code)) {
        return { label: 'Leave this stretch out', params: { kind: 'time', from: since, to: until } };
    }

    return null;
}

/** Where to go from a finding: the picture of it, what it touches alone, and what mends it. */
export function doors(site: string, audit: ReadAudit, finding: AuditFinding): Door[] {
    const found: Door[] = [];
    const [, view, label] = VIEW_OF.find(([code]) => code.test(finding.code)) ?? [null, null, ''];
    if (view) {
        found.push({ label, to: address.audit(site, audit.audit, view), main: true });
    }
    const segment =
        finding.segment && !finding.segment.value.includes(',')
            ? finding.segment
            : finding.page
              ? { dimension: 'page', value: finding.page }
              : null;
    const part = new URLSearchParams();
    if (segment && !['day', 'weekday', 'hour'].includes(segment.dimension)) {
        part.set('dimension', segment.dimension);
        part.set('value', segment.value);
    }
    if (finding.since) {
        part.set('since', finding.since);
    }
    if (finding.until) {
        part.set('until', finding.until);
    }
    if (part.size > 0) {
        found.push({ label: 'Look at these alone', to: `${address.audit(site, audit.audit, view ?? 'split')}?${part}` });
    }
    const behind = behindOf(finding);
    if (behind) {
        const query = new URLSearchParams({
            behind,
            ...(finding.variant && !['unknown-variant', 'orders', 'bots', 'internal'].includes(behind) ? { variant: finding.variant } : {}),
            ...(finding.goal ? { goal: finding.goal } : {}),
            ...(segment && !['day', 'weekday', 'hour'].includes(segment.dimension) ? segment : {}),
        });
        found.push({ label: 'See who is behind it', to: `${address.audit(site, audit.audit, 'rows')}?${query}` });
    }
    const out = leftOut(finding);
    if (out) {
        found.push({ label: out.label, to: `${address.audit(site, audit.audit, 'exclusions')}?${new URLSearchParams(out.params)}` });
    }
    if (finding.page) {
        found.push({ label: 'Inspect this page', to: `${address.coverage(site)}?q=${encodeURIComponent(finding.page)}` });
    }
    if (finding.event || finding.code.startsWith('event.')) {
        const filters = new URLSearchParams(finding.event ? { event: finding.event } : {});
        found.push({ label: 'Open these events', to: `${address.feed(site)}?${filters}` });
    }
    if (finding.goal) {
        found.push({ label: `Open the goal ${finding.goal}`, to: address.goals(site, finding.goal) });
    }
    if (audit.experiment) {
        if (finding.variant || finding.link === 'exposure' || finding.link === 'snippet') {
            found.push({
                label: finding.variant ? `Rehearse variant ${finding.variant}` : 'Rehearse it',
                to: `${address.experimentView(site, audit.experiment, 'rehearsal')}${finding.variant ? `?variant=${encodeURIComponent(finding.variant)}` : ''}`,
            });
        }
        if (finding.link === 'split' || finding.link === 'entry') {
            found.push({
                label: finding.code.startsWith('epoch') ? 'Make a new epoch' : 'See what is declared',
                to: address.experiment(site, audit.experiment, finding.link),
            });
        }
    }

    return found;
}

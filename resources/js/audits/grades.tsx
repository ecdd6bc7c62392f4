import type { LinkState, Schemas } from '../api/client';
import type { Audit, AuditFinding } from '../api/audits';
import { StateMark } from '../parts/StateMark';

export const VERDICT_STATE: Record<NonNullable<Audit['verdict']>, LinkState> = { fit: 'holds', doubt: 'doubt', unfit: 'broken' };
export const VERDICT_WORDS: Record<NonNullable<Audit['verdict']>, string> = { fit: 'fit', doubt: 'in doubt', unfit: 'unfit' };

const GRADES: Record<Schemas['Severity'], LinkState> = { blocker: 'broken', warning: 'doubt', note: 'unseen' };

/** How grave a finding is, as a mark. A note is no state of anything, but a hollow ring tells it well enough. */
export function Grade({ severity, size }: { severity: Schemas['Severity']; size?: number }) {
    return (
        <span title={severity} className="inline-flex items-center">
            <StateMark state={GRADES[severity]} size={size} />
            <span className="sr-only">{severity}</span>
        </span>
    );
}

/** Findings one after the other, each with how far down it stands among what follows from others. */
export function flat(findings: AuditFinding[], depth = 0): { finding: AuditFinding; depth: number }[] {
    return findings.flatMap((finding) => [{ finding, depth }, ...flat(finding.consequences, depth + 1)]);
}

import type { ReadyPoint } from '../../api/life';

const LABELS: Record<ReadyPoint['state'], string> = { blocker: 'Blocker', advice: 'Advice', fine: 'In order' };

/** The state of a point as shape and colour, as the chain's. */
export function ReadyMark({ state }: { state: ReadyPoint['state'] }) {
    return (
        <svg viewBox="0 0 16 16" width="16" height="16" role="img" aria-label={LABELS[state]} className="mt-1">
            {state === 'fine' && <circle cx="8" cy="8" r="6" fill="#1F7A4D" />}
            {state === 'advice' && <path d="M8 2 15 14H1Z" fill="#A66A00" />}
            {state === 'blocker' && <path d="M2 2h8v4h4v8H2Z" fill="#B3261E" />}
        </svg>
    );
}

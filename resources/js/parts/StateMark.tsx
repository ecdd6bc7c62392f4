import type { LinkState } from '../api/client';

const COLOURS: Record<LinkState, string> = {
    holds: 'text-holds',
    doubt: 'text-doubt',
    broken: 'text-broken',
    unseen: 'text-unseen',
    stale: 'text-unseen',
};

/** A state as a shape and a colour, so that either alone tells it. */
export function StateMark({ state, size = 16 }: { state: LinkState; size?: number }) {
    return (
        <svg
            viewBox="0 0 16 16"
            width={size}
            height={size}
            className={`inline-block shrink-0 ${COLOURS[state]}`}
            role="img"
            aria-label={state}
        >
            <Shape state={state} />
        </svg>
    );
}

function Shape({ state }: { state: LinkState }) {
    switch (state) {
        case 'holds':
            return <circle cx="8" cy="8" r="6" fill="currentColor" />;
        case 'doubt':
            return <path d="M8 1.5 15 14H1Z" fill="currentColor" />;
        case 'broken':
            return <path d="M2 2h3.5L8 7l2.5-5H14v12H2Z" fill="currentColor" />;
        case 'unseen':
            return <circle cx="8" cy="8" r="5.2" fill="none" stroke="currentColor" strokeWidth="1.8" />;
        case 'stale':
            return (
                <>
                    <circle cx="8" cy="8" r="5.4" fill="none" stroke="currentColor" strokeWidth="1.2" />
                    <path d="M8 2.6a5.4 5.4 0 0 1 0 10.8Z" fill="currentColor" />
                </>
            );
    }
}

import type { ReactNode } from 'react';

interface Props {
    declared: ReactNode;
    observed: ReactNode;
    off?: boolean;
    last?: boolean;
}

/** One row of the two leaves; `off` marks a mismatch on the spine. */
export function Row({ declared, observed, off = false, last = false }: Props) {
    const edge = `min-w-0 border-x border-line bg-leaf px-4 py-1.5 ${last ? 'border-b' : ''}`;

    return (
        <div className="leaves">
            <div className={`${edge} border-t max-md:col-start-2`}>{declared}</div>
            <div className="flex items-center justify-center font-mono text-broken max-md:hidden" aria-hidden={!off}>
                {off ? <span aria-label="does not match">≠</span> : ''}
            </div>
            <div className={`${edge} border-t max-md:col-start-2 ${off ? 'text-broken' : ''}`}>{observed}</div>
        </div>
    );
}

import type { ReactNode } from 'react';

interface Props {
    declared: ReactNode;
    /** The verdict between the leaves. */
    spine: ReactNode;
    observed: ReactNode;
    head?: boolean;
}

/** A row of the two leaves with its verdict on the spine; on a narrow screen the verdict stands above what was observed. */
export function ReadoutRow({ declared, spine, observed, head = false }: Props) {
    const leaf = `min-w-0 border border-line bg-leaf px-4 ${head ? 'py-1' : 'py-2'} -mt-px`;

    return (
        <div className="grid grid-cols-[minmax(0,4fr)_5.5rem_minmax(0,9fr)] max-md:grid-cols-1">
            <div className={leaf}>{declared}</div>
            <div className="flex flex-col items-center justify-center px-1 text-center text-sm leading-tight max-md:items-start max-md:py-1">
                {spine}
            </div>
            <div className={leaf}>{observed}</div>
        </div>
    );
}

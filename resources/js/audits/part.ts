import { useSearchParams } from 'react-router';
import type { Chosen } from '../api/audits';

const NAMES = ['since', 'until', 'dimension', 'value'] as const;

/** The part of an audit that the address names. */
export function chosenIn(params: URLSearchParams): Chosen {
    return Object.fromEntries(NAMES.flatMap((name) => (params.get(name) ? [[name, params.get(name) as string]] : [])));
}

/** Chooses a part; what else stands in the address stays. */
export function useChoose(): (part: { [name in keyof Chosen]?: string | null }) => void {
    const [, setParams] = useSearchParams();

    return (part) =>
        setParams((before) => {
            const next = new URLSearchParams(before);
            for (const [name, value] of Object.entries(part)) {
                if (value) {
                    next.set(name, value);
                } else {
                    next.delete(name);
                }
            }

            return next;
        });
}

import type { Props } from './types';

/** Everything that a site has pushed already, later values over earlier ones. */
export function pushedSoFar(name: string): Props {
    const list = (window as unknown as Record<string, unknown>)[name];

    return Object.assign({}, ...(Array.isArray(list) ? list : []).filter(isPush)) as Props;
}

function isPush(push: unknown): push is Props {
    return typeof push === 'object' && push !== null && !Array.isArray(push);
}

/**
 * Follows the array that a site pushes its data to: what is in it already, and what comes. Calls back with each push and
 * with everything that was pushed so far, later values over earlier ones.
 */
export function followData(name: string, heard: (push: Props, all: Props) => void, signal?: AbortSignal): void {
    const holder = window as unknown as Record<string, unknown>;
    const list: unknown[] = Array.isArray(holder[name]) ? (holder[name] as unknown[]) : [];
    holder[name] = list;
    const all: Props = {};
    const take = (push: unknown): void => {
        if (!signal?.aborted && isPush(push)) {
            Object.assign(all, push);
            heard(push, all);
        }
    };
    list.forEach(take);
    const original = list.push;
    list.push = function (...items: unknown[]) {
        const length = original.apply(list, items);
        items.forEach(take);

        return length;
    };
}

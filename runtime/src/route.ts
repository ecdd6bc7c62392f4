/** Calls back when an application on a single page moves to another address, with the one before. */
export function followRoute(moved: (before: string) => void, signal?: AbortSignal): void {
    let here = location.href;
    const look = (): void => {
        const before = here;
        here = location.href;
        if (!signal?.aborted && pageOf(before) !== pageOf(here)) {
            moved(before);
        }
    };
    for (const name of ['pushState', 'replaceState'] as const) {
        const original = history[name];
        history[name] = function (...given: Parameters<History['pushState']>) {
            original.apply(history, given);
            look();
        };
    }
    addEventListener('popstate', look, { signal });
    addEventListener('hashchange', look, { signal });
}

/** A fragment belongs to the page where it is written like a path; otherwise it is a place on the page. */
function pageOf(url: string): string {
    const [page, fragment = ''] = url.split('#', 2);

    return /^!?\//.test(fragment) ? `${page}#${fragment}` : page;
}

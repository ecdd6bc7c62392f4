declare global {
    interface Window {
        /** Stands on a copy of a page: the address of the page, and when it was inspected. */
        pellixCopy?: { url: string; at: string };
    }
}

/** What this tab keeps. A copy of a page has no storage: there it lies in the name of the window, which lasts as long. */
export const shelf = {
    get(name: string): string | null {
        return window.pellixCopy ? named(name) : sessionStorage.getItem(name);
    },
    set(name: string, value: string): void {
        if (window.pellixCopy) {
            window.name = `${name}:${value}`;
        } else {
            sessionStorage.setItem(name, value);
        }
    },
    drop(name: string): void {
        if (window.pellixCopy) {
            window.name = '';
        } else {
            sessionStorage.removeItem(name);
        }
    },
};

function named(name: string): string | null {
    return window.name.startsWith(`${name}:`) ? window.name.slice(name.length + 1) : null;
}

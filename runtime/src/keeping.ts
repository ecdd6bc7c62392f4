/** Where the runtime keeps what outlives a page, and what it takes the browser for: the browser's own, unless it runs in a preview. */
export interface Keeping {
    cookies(): string;
    /** Writes one cookie, in the form of `document.cookie`. */
    write(cookie: string): void;
    /** Throws where the browser refuses it. */
    storage(name: 'localStorage' | 'sessionStorage'): Storage;
    agent(): string;
}

export const keeping: Keeping = {
    cookies: () => document.cookie,
    write: (cookie) => (document.cookie = cookie),
    storage: (name) => window[name],
    agent: () => navigator.userAgent,
};

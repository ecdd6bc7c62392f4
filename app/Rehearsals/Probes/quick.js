/*
 * Runs the site's file again and again, each time for a visitor who has never been there, and tells whom it gave which variant.
 * Nobody is asked for consent, nothing is changed, nobody is sent on, and nothing is sent: what is asked is how they are assigned.
 */
(file, key, most, byUser) => {
    const found = [];
    window.fetch = () => new Promise(() => undefined);
    navigator.sendBeacon = () => true;
    const run = new Function(file);
    if (byUser) {
        // A user's variant is kept nowhere: it is worked out each time.
        window.pellixCheck = ({ assign }) => {
            const experiment = window.pellixSite.experiments.find((one) => one.key === key);
            for (let i = 0; i < most; i++) {
                const id = 'quick-' + crypto.randomUUID();
                const given = assign(experiment, id);
                found.push([id, given.variant?.key ?? null, []]);
            }
        };
        run();
        return found;
    }
    const forget = () => {
        const domains = ['', ...location.hostname.split('.').map((_, i, parts) => '; Domain=' + parts.slice(i).join('.'))];
        document.cookie
            .split('; ')
            .forEach((one) => domains.forEach((domain) => (document.cookie = one.split('=')[0] + '=; Path=/; Max-Age=0' + domain)));
        localStorage.clear();
        sessionStorage.clear();
    };
    for (let i = 0; i < most; i++) {
        forget();
        delete window.pellix;
        let kept;
        Object.defineProperty(window, 'pellixSite', {
            configurable: true,
            get: () => kept,
            set: (site) => {
                const bare = ({ audience, trigger, redirect, ...one }) => ({
                    ...one,
                    pages: { all: [] },
                    variants: one.variants.map(({ target, ...variant }) => ({ ...variant, changes: [] })),
                });
                kept = {
                    ...site,
                    ask: false,
                    gpc: false,
                    tags: [],
                    experiments: site.experiments.filter((one) => !one.serves && one.unit !== 'user').map(bare),
                };
            },
        });
        run();
        let id = null;
        window.pellix?.('visitor', (one) => (id = one));
        const variants = Object.fromEntries(
            (/(?:^|; )plx_variants=([^;]*)/.exec(document.cookie)?.[1] ?? '')
                .split('|')
                .filter(Boolean)
                .map((pair) => pair.split('~')),
        );
        found.push([id, variants[key] ?? null, Object.keys(variants).filter((one) => one !== key)]);
    }
    forget();
    return found;
};

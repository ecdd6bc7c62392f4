import { assign } from './assign';
import { listen, type Api } from './listen';
import { called } from './loupe';
import { Page } from './page';
import { addressFacts, matches } from './rules';
import { safely } from './safely';
import type { Configuration } from './types';

declare global {
    interface Window {
        pellixSite?: Configuration;
        pellix?: Api;
        pellixShow?: () => void;
        /** Stands there while the file is checked, before it is served: then it is asked what it would decide, and does nothing. */
        pellixCheck?: (own: object) => void;
        /** What the Loupe does instead, where it is let go of. */
        pellixStart?: () => void;
    }
}

safely(() => {
    const configuration = window.pellixSite;
    if (window.pellixCheck) {
        return window.pellixCheck({ assign, matches, addressFacts });
    }
    // A snippet that stands on the page twice counts once.
    if (!configuration || window.pellix?.running) {
        return;
    }
    const start = (): void => safely(() => listen(configuration, (cookies) => new Page(configuration, cookies)));
    if (called(configuration, start)) {
        return;
    }
    if ('prerendering' in document && document.prerendering) {
        document.addEventListener('prerenderingchange', start, { once: true });
    } else {
        start();
    }
});

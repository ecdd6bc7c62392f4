import type { Configuration } from '../../../runtime/src/types';
import { PreviewSender } from './PreviewSender';

/** On a copy of a page nothing is told: nobody has looked at the page. */
export class SilentSender extends PreviewSender {
    override flush(): void {}
}

/** What runs on a copy: the one experiment that is changed, as if the copy were a page of it. */
export function onCopy(configuration: Configuration, experiment: string | null): Configuration {
    return {
        ...configuration,
        hosts: [location.hostname.toLowerCase()],
        domain: null,
        ask: false,
        gpc: false,
        tags: [],
        experiments: configuration.experiments
            .filter(({ key }) => key === experiment)
            .map(({ key, salt, variants }) => ({ key, salt, share: 1, pages: { all: [] }, variants })),
    };
}

/** Nothing leads away from a copy. */
export function holdOn(): void {
    document.addEventListener(
        'click',
        (event) => event.target instanceof Element && event.target.closest('a[href], area') && event.preventDefault(),
        {
            capture: true,
        },
    );
    document.addEventListener('submit', (event) => event.preventDefault(), { capture: true });
}

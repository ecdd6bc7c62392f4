import { nonced } from './nonce';
import type { Configuration } from './types';

/** Whether this tab was opened by a link to the Loupe, which then decides what happens on the page; it is loaded for nobody else. */
export function called({ collector }: Configuration, start: () => void): boolean {
    const isInAddress = (): boolean => /[#&]plx-loupe=/.test(location.hash);
    // A link to the page that is open already loads nothing by itself.
    addEventListener('hashchange', () => isInAddress() && location.reload());
    try {
        if (!isInAddress() && !sessionStorage.plx_loupe) {
            return false;
        }
    } catch {
        // No storage: there is no preview in this browser.
        return false;
    }
    const script = nonced(document.createElement('script'));
    window.pellixStart = start;
    script.src = new URL('/loupe.js', collector).href;
    // Where it does not come, the page is an ordinary one.
    script.onerror = start;
    document.head.append(script);

    return true;
}

/** What changes that are bound to widths need; part of a site's file while there are some (core/src/Wiring/RuntimeConfiguration.php). */
import type { Work } from '../changes';
import { offer } from '../parts';
import type { Change } from '../types';

const asked = new WeakMap<Work, MediaQueryList>();

function isForOthers(work: Work, missing: Set<Change>, apply: (grown: boolean) => void): boolean {
    const { change, made } = work;
    if (!change.media) {
        return false;
    }
    let query = asked.get(work);
    if (!query) {
        query = matchMedia(change.media);
        query.onchange = () => {
            missing.add(change);
            apply(true);
        };
        asked.set(work, query);
    }
    if (query.matches) {
        return false;
    }
    // Nothing is missing: it is not for this window, as long as it is so wide.
    missing.delete(change);
    [...made.values()].reverse().forEach((one) => one.undo());
    made.clear();

    return true;
}

offer({ media: isForOthers });

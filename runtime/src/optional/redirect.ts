/** What redirect tests need; part of a site's file while one runs there (core/src/Wiring/RuntimeConfiguration.php). */
import { isCrawler } from '../agent';
import { keeping } from '../keeping';
import { merged } from '../merged';
import { offer, type Arrival } from '../parts';
import type { Configuration } from '../types';
import { readCookie, writeCookie } from '../visitor';

const FROM = 'plx_from';
/** So long an arrival is waited for. */
const SECONDS = 60;
const LONGEST_PATH = 300;
const LONGEST_REFERRER = 500;
/** Whoever is sent away more often within that time goes round in circles. */
const GONE = 'plx_gone';
const MOST_TIMES = 2;
const WITHIN = 10_000;

/** Programs stay where they are, unless somebody has marked their own visit. */
function isVisitor(isMarked: boolean): boolean {
    return isMarked || !(navigator.webdriver || isCrawler(keeping.agent()));
}

/** Leads the visitor to a variant's target; what keeps it from doing so, if anything does. */
function leave(configuration: Configuration, experiment: string, variant: string, target: string, referrer: string): string | null {
    const there = new URL(merged(target, location.href), location.href);
    if (there.origin + there.pathname === location.origin + location.pathname) {
        return 'It leads to the page itself.';
    }
    if (isRound(experiment)) {
        return 'It leads round in circles.';
    }
    const arrival = JSON.stringify([
        experiment,
        variant,
        there.pathname.slice(0, LONGEST_PATH),
        location.pathname.slice(0, LONGEST_PATH),
        referrer.slice(0, LONGEST_REFERRER),
    ]);
    writeCookie({ ...configuration, cookieSeconds: SECONDS }, FROM, encodeURIComponent(arrival));
    // In place of this one: the way back leads to where the visitor came from.
    location.replace(there.href);

    return null;
}

function isRound(experiment: string): boolean {
    try {
        const now = Date.now();
        const all = JSON.parse(keeping.storage('sessionStorage').getItem(GONE) ?? '{}') as Record<string, number[]>;
        const times = (all[experiment] ?? []).filter((time) => now - time < WITHIN);
        keeping.storage('sessionStorage').setItem(GONE, JSON.stringify({ ...all, [experiment]: [...times, now].slice(-MOST_TIMES) }));

        return times.length >= MOST_TIMES;
    } catch {
        // No storage: that no page leads back is checked before an experiment starts.
        return false;
    }
}

/** Where the visitor was sent here from, told once; null for whoever came by themselves. */
function arrival(configuration: Configuration, cookies: string): Arrival | null {
    const kept = readCookie(FROM, cookies);
    if (!kept) {
        return null;
    }
    try {
        const [experiment, variant, there, from, referrer] = JSON.parse(decodeURIComponent(kept)) as string[];
        // Another tab of the visitor's may be the one that is awaited.
        const isHere =
            location.pathname.slice(0, LONGEST_PATH) === there || new URL(document.referrer).pathname.slice(0, LONGEST_PATH) === from;
        if (!isHere) {
            return null;
        }
        writeCookie({ ...configuration, cookieSeconds: 0 }, FROM, '');

        return { experiment, variant, referrer };
    } catch {
        return null;
    }
}

offer({ redirect: { isVisitor, leave, arrival } });

/** Tells that parts of a page were seen; part of a site's file while a goal counts that (core/src/Wiring/RuntimeConfiguration.php). */

/**
 * Half of it, or as much of it as fills half of the window, for a second without a break (Media Rating Council, Viewable Ad Impression
 * Measurement Guidelines, 2014: 50 % of the pixels for one continuous second; the window's half for what is larger than that: common
 * practice, no source).
 */
const PART = 0.5;
const MS = 1000;

const LOOK_MS = 1000;
const MOST_ELEMENTS = 50;

function watchAreas(areas: string[]): void {
    let view = location.href;
    let told = new Set<string>();
    const timers = new Map<Element, number>();
    const observer = new IntersectionObserver(
        (entries) =>
            entries.forEach(({ target, intersectionRatio, intersectionRect }) => {
                if (intersectionRatio < PART && intersectionRect.height < PART * innerHeight) {
                    clearTimeout(timers.get(target));
                    timers.delete(target);
                } else if (!timers.has(target)) {
                    timers.set(
                        target,
                        window.setTimeout(() => tell(target), MS),
                    );
                }
            }),
        { threshold: [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1] },
    );
    const found = (area: string): Element[] => {
        try {
            return Array.from(document.querySelectorAll(area)).slice(0, MOST_ELEMENTS);
        } catch {
            return [];
        }
    };
    const tell = (element: Element): void => {
        timers.delete(element);
        if (document.visibilityState === 'visible' && element.isConnected) {
            areas
                .filter((area) => !told.has(area) && found(area).includes(element))
                .forEach((area) => {
                    told.add(area);
                    // Through the front door: nothing is told before the visitor has agreed.
                    window.pellix?.('event', 'area_seen', { area });
                });
        }
    };
    const look = (): void => {
        if (view !== location.href) {
            // Another view of an application: everything can be seen anew.
            view = location.href;
            told = new Set();
            observer.disconnect();
            timers.forEach((timer) => clearTimeout(timer));
            timers.clear();
        }
        areas.flatMap(found).forEach((element) => observer.observe(element));
    };
    look();
    window.setInterval(look, LOOK_MS);
}

if (window.pellixSite?.areas && window.IntersectionObserver) {
    watchAreas(window.pellixSite.areas);
}

export {};

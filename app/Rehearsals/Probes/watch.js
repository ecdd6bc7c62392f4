/*
 * Follows a page from its first moment: what was painted of the changed places and when, how long the page was hidden, what moved,
 * and what a policy refused. `pellixPlan` holds the changes; the answers are read from `pellixWatch`.
 */
const pellixWatch = (() => {
    const MOST = 400;
    const asked = pellixChanges(pellixPlan.changes);
    const frames = [];
    const turns = pellixPlan.changes.map(() => []);
    const shifts = [];
    const refused = [];
    const paints = {};
    let bodySeen = null;
    let bodyHidden = null;
    let largest = 0;
    let last = '';

    const now = () => Math.round(10 * performance.now()) / 10;
    const turn = () => {
        asked.stands().forEach((state, i) => {
            const own = turns[i];
            if (own.length < 60 && own[own.length - 1]?.[1] !== state) {
                own.push([now(), state]);
            }
        });
    };
    // What stands in the document when a frame is made is what the frame shows.
    const look = () => {
        if (frames.length < MOST && document.body) {
            const isSeen = asked.isVisible(document.body) && Number(getComputedStyle(document.documentElement).opacity) > 0;
            if (isSeen) {
                bodySeen ??= now();
            } else {
                bodyHidden ??= now();
            }
            const shown = asked.shown();
            const text = JSON.stringify([isSeen, shown]);
            if (text !== last) {
                last = text;
                frames.push([now(), isSeen, shown]);
            }
        }
        requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
    new MutationObserver(turn).observe(document, { childList: true, subtree: true, attributes: true, characterData: true });
    turn();
    const observe = (type, take) => {
        try {
            new PerformanceObserver((list) => list.getEntries().forEach(take)).observe({ type, buffered: true });
        } catch {
            // Not a browser that tells.
        }
    };
    observe('paint', (entry) => (paints[entry.name] = Math.round(10 * entry.startTime) / 10));
    observe('largest-contentful-paint', (entry) => (largest = Math.round(10 * entry.startTime) / 10));
    observe('layout-shift', (entry) => {
        if (!entry.hadRecentInput && shifts.length < 50) {
            shifts.push({
                at: Math.round(entry.startTime),
                value: entry.value,
                on: entry.sources.slice(0, 3).map((source) => asked.path(source.node)),
            });
        }
    });
    document.addEventListener(
        'securitypolicyviolation',
        (event) =>
            refused.length < 30 &&
            refused.push({
                what: event.blockedURI,
                by: event.effectiveDirective,
                line: event.lineNumber,
                source: event.sourceFile,
                isReport: event.disposition === 'report',
                sample: event.sample.slice(0, 100),
            }),
        true,
    );

    return {
        asked,
        told: () => ({
            now: now(),
            frames,
            turns,
            shifts,
            refused,
            paints,
            largest,
            bodySeen,
            bodyHidden,
            scripts: Array.from(document.scripts, (one) => [
                one.src,
                one.hasAttribute('data-pellix'),
                one.hasAttribute('data-pellix-guard'),
                one.getAttribute('data-pellix') ?? '',
            ]).filter(([, a, b]) => a || b),
        }),
    };
})();

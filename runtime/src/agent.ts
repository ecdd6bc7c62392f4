/** Device and browser, as core/src/Segments/Agent.php tells them; tests/vectors/agents.json holds the two together. */
export function device(agent: string): string {
    if (/iPad|Tablet|PlayBook|Silk(?!.*Mobile)|Android(?!.*Mobile)/.test(agent)) {
        return 'tablet';
    }

    return /Mobi|iPhone|iPod|Android/.test(agent) ? 'mobile' : 'desktop';
}

const BROWSERS: [string, RegExp][] = [
    ['edge', /Edg(?:e|A|iOS)?\//],
    ['opera', /OPR\/|Opera/],
    ['samsung', /SamsungBrowser\//],
    ['firefox', /Firefox\/|FxiOS\//],
    ['chrome', /Chrome\/|CriOS\//],
    ['safari', /Safari\//],
];

export function browser(agent: string): string {
    return BROWSERS.find(([, pattern]) => pattern.test(agent))?.[0] ?? 'other';
}

/** Whether it says of itself that it is a program that reads pages. */
export function isCrawler(agent: string): boolean {
    return /(?:^|[^u])bot\b|crawl|spider|slurp|externalhit|fetcher|archiver|lighthouse/i.test(agent);
}

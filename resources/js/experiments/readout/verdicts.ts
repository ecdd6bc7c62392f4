import type { ReadoutGoal } from '../../api/readout';

type Verdict = NonNullable<ReadoutGoal['verdict']>;

/** How a verdict is called, and the shape that stands for it beside the words. */
export const VERDICTS: Record<Verdict, { words: string; sign: string; colour: string }> = {
    better: { words: 'better', sign: '▲', colour: 'text-holds' },
    'not-worse': { words: 'kept', sign: '●', colour: 'text-holds' },
    worse: { words: 'worse', sign: '▼', colour: 'text-broken' },
    'no-difference': { words: 'no difference found', sign: '=', colour: 'text-ink' },
    'too-early': { words: 'too early', sign: '…', colour: 'text-soft' },
};

/** Tests by the names that the JSON has for them, with what they are. */
export const TESTS: Record<string, string> = {
    'chi-square': 'Pearson’s chi-square test without continuity correction; the interval is Newcombe’s (1998, method 10)',
    'fisher-exact': 'Fisher’s exact test, since fewer than 5 are expected in a cell; the interval is Newcombe’s (1998, method 10)',
    'mantel-haenszel': 'epochs compared one by one and joined by Mantel and Haenszel (1959), variance by Sato (1989)',
    welch: 'Welch’s t test (1947), whose variances may differ',
    delta: 'a ratio of two means by the delta method (Deng, Knoblich, Lu 2018)',
    'inverse-variance': 'epochs compared one by one and joined by the inverse of their variances (Cochran 1954)',
    anytime: 'a confidence sequence, valid at any look (Howard et al. 2021; Waudby-Smith et al. 2024)',
    reduced: 'what visitors did before taken off (Deng et al. 2013)',
};

import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Experiment } from '../api/client';
import type { Notice } from '../api/audits';
import type { ReadoutGoal } from '../api/readout';
import { GoalResults, short } from '../experiments/readout/GoalResults';
import { scaleOf } from '../experiments/readout/IntervalMark';
import { ruleInWords, typed } from '../experiments/readout/rule';
import { noticeAddress } from '../notices/noticeAddress';

const experiment = {
    variants: [
        { key: 'control', name: 'As it is' },
        { key: 'b', name: 'Names it' },
    ],
} as Experiment;

const goal: ReadoutGoal = {
    key: 'joined',
    name: 'Joined',
    role: 'primary',
    measure: 'rate',
    worthwhile: 0.02,
    joined: false,
    verdict: 'better',
    sentence: 'It is better.',
    variants: [
        { key: 'control', control: true, n: 10_000, hits: 769, rate: 0.0769, told: { value: '7.69 %', loss: '4.43 points' } },
        {
            key: 'b',
            control: false,
            n: 10_000,
            hits: 1212,
            rate: 0.1212,
            difference: { points: 0.0443, low: 0.036, high: 0.0526, p: 1e-25, test: 'chi-square' },
            relative: { value: 0.576, low: 0.446, high: null },
            better: 1,
            told: {
                value: '12.12 %',
                difference: '+4.43 points',
                interval: '+3.60 to +5.26 points',
                relative: '+57.6 %',
                loss: '0.00 points',
            },
        },
    ],
};

describe('a readout', () => {
    it('tells points and percent apart, and says how they were worked out', () => {
        const { container } = render(<GoalResults goal={goal} experiment={experiment} />);
        expect(container.querySelector('[data-figure=difference]')?.textContent).toBe(
            '+4.43 points, that is +57.6 % (+3.60 to +5.26 points)',
        );
        expect(screen.getByText(/Pearson’s chi-square test/).textContent).toContain('p = 1.0e-25');
        expect(screen.getByText(/uniform priors on the rates/)).toBeTruthy();
        expect(screen.getByText(/Relative:/).textContent).toContain('no end');
        // The control has no difference.
        expect(container.querySelectorAll('[data-figure=difference]')).toHaveLength(1);
        expect(container.querySelectorAll('svg[role=img]')).toHaveLength(1);
    });

    it('draws all differences, zero and what was asked for on one scale', () => {
        const scale = scaleOf([0.01, 0.05, null, undefined], [0.02]);
        expect(scale.from).toBeLessThan(0);
        expect(scale.to).toBeGreaterThan(0.05);
        expect(scaleOf([-3, -1], []).to).toBeGreaterThan(0);
        expect(scaleOf([], [])).toEqual({ from: -0.06, to: 0.06 });
    });

    it('writes numbers short, and what has no end as such', () => {
        expect([short(0.012345), short(-4), short(null), short(123456)]).toEqual(['0.0123', '−4', 'no end', '123000']);
    });

    it('says a rule in words, and reads what is typed', () => {
        expect(ruleInWords(null)).toBe('A person decides.');
        expect(ruleInWords({ by: 'guarded', acts: true, earlier_days: 7 })).toBe(
            'The primary goal decides, at the planned end, unless a guardrail falls below its margin. Pellix acts on it. What visitors did in the 7 days before is taken off, and shown beside.',
        );
        expect(ruleInWords({ by: 'primary' })).toContain('Pellix proposes, and a person confirms.');
        expect([typed(''), typed(' 0,02 '), typed('3'), typed('-1'), typed('x')]).toEqual([null, 0.02, 3, undefined, undefined]);
    });

    it('leads from a notice to where it is settled', () => {
        const notice = { audit: null, identity: 'decision', experiment: 'e', code: 'decision.due' } as Notice;
        expect(noticeAddress('s', notice)).toBe('/sites/s/experiments/e/readout');
        expect(noticeAddress('s', { ...notice, code: 'srm.overall', audit: 4, identity: 'a b' })).toBe('/sites/s/audits/4?finding=a%20b');
        expect(noticeAddress('s', { ...notice, code: 'srm.overall' })).toBeNull();
    });
});

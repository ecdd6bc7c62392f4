import { describe, expect, it } from 'vitest';
import { even, sumMistake, toHundred, withBorder, withWeight } from '../experiments/weights';

const sum = (parts: number[]): number => Math.round(parts.reduce((a, b) => a + b, 0) * 100) / 100;

describe('the traffic of an experiment', () => {
    it.each([
        [1, [100]],
        [2, [50, 50]],
        [3, [33.34, 33.33, 33.33]],
        [4, [25, 25, 25, 25]],
        [6, [16.67, 16.67, 16.67, 16.67, 16.66, 16.66]],
        [7, [14.29, 14.29, 14.29, 14.29, 14.28, 14.28, 14.28]],
    ])('is made even for %i', (number, parts) => {
        expect(even(number)).toEqual(parts);
    });

    it.each([
        [
            [1, 1, 1],
            [33.34, 33.33, 33.33],
        ],
        [
            [45, 45],
            [50, 50],
        ],
        [
            [90, 10],
            [90, 10],
        ],
        [
            [2, 1],
            [66.67, 33.33],
        ],
        [
            [0, 5],
            [0, 100],
        ],
        [
            [0, 0],
            [50, 50],
        ],
    ])('is mended to make a hundred: %j', (weights, parts) => {
        expect(toHundred(weights)).toEqual(parts);
    });

    it.each([
        [[50, 50], 0, 90, [90, 10]],
        [[50, 50], 1, 33.3, [66.7, 33.3]],
        [[40, 40, 20], 0, 70, [70, 20, 10]],
        [[40, 40, 20], 2, 0, [50, 50, 0]],
        [[100, 0, 0], 0, 40, [40, 30, 30]],
        [[50, 50], 0, 120, [100, 0]],
        [[50, 50], 0, -3, [0, 100]],
        [[10, 10, 80], 2, 0.01, [50, 49.99, 0.01]],
    ])('follows one weight: %j, number %i becomes %d', (weights, at, weight, parts) => {
        expect(withWeight(weights, at, weight)).toEqual(parts);
    });

    it('always makes a hundred, whatever is set', () => {
        let seed = 11;
        const random = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647;
        for (let run = 0; run < 3000; run++) {
            const weights = Array.from({ length: 2 + Math.floor(random() * 5) }, () => Math.round(random() * 10_000) / 100);
            const at = Math.floor(random() * weights.length);
            const weight = Math.round(random() * 10_000) / 100;
            const set = withWeight(weights, at, weight);
            expect([sum(set), set[at], set.every((one) => one >= 0)]).toEqual([100, weight, true]);
            expect(sum(toHundred(weights))).toBe(100);
        }
    });

    it('moves a border between two neighbours, as far as they reach', () => {
        expect(withBorder([40, 40, 20], 0, 5)).toEqual([45, 35, 20]);
        expect(withBorder([40, 40, 20], 1, 30)).toEqual([40, 60, 0]);
        expect(withBorder([40, 40, 20], 0, -50)).toEqual([0, 80, 20]);
    });

    it.each([
        [[40, 40, 20], null],
        [[33.3, 33.3, 33.4], null],
        [[40, 40], 'The weights make 80: 20 are missing.'],
        [[60, 50], 'The weights make 110: 10 too many.'],
        [[NaN, 50], null],
    ])('says what is missing: %j', (weights, words) => {
        expect(sumMistake(weights)).toBe(words);
    });
});

/** How the whole traffic is divided: the share that takes part, and the variants' parts of it. Weights are numbers that make 100. */

const HUNDREDTHS = 100;

/** So many parts of 100 that are as even as hundredths allow: largest remainder, the first ones get what is left over. */
export function even(number: number): number[] {
    return toHundred(Array.from({ length: number }, () => 1));
}

/** The same proportions, in hundredths that make exactly 100. */
export function toHundred(weights: number[]): number[] {
    return sharedOut(weights, 100);
}

/**
 * A total in the proportions of the weights, in hundredths: each is rounded down, and those that lose most by it get what is
 * left over (largest remainder; common practice, no source).
 */
function sharedOut(weights: number[], total: number): number[] {
    const sum = weights.reduce((a, b) => a + b, 0);
    const all = Math.round(total * HUNDREDTHS);
    const exact = weights.map((weight) => (sum > 0 ? (weight / sum) * all : all / weights.length));
    const parts = exact.map((one) => Math.floor(one + 1e-9));
    const order = exact.map((one, i) => ({ rest: one - parts[i], i })).sort((a, b) => b.rest - a.rest || a.i - b.i);
    const left = all - parts.reduce((a, b) => a + b, 0);
    for (let n = 0; n < left; n++) {
        parts[order[n % order.length].i]++;
    }

    return parts.map((part) => part / HUNDREDTHS);
}

/** With one weight set: of two the other follows, of more the rest is spread over the others in their proportion. */
export function withWeight(weights: number[], at: number, weight: number): number[] {
    const value = tidy(Math.min(100, Math.max(0, weight)));
    const others = sharedOut(
        weights.filter((_, i) => i !== at),
        100 - value,
    );

    return [...others.slice(0, at), value, ...others.slice(at)];
}

/** With the border between two neighbours moved by so many of 100: what one gets the other gives. */
export function withBorder(weights: number[], after: number, by: number): number[] {
    const [one, next] = [weights[after], weights[after + 1]];
    const moved = Math.max(-one, Math.min(next, by));

    return weights.map((weight, i) => tidy(i === after ? one + moved : i === after + 1 ? next - moved : weight));
}

export function tidy(value: number): number {
    return Math.round(value * HUNDREDTHS) / HUNDREDTHS;
}

/** What is missing from, or too much for, 100; null where nothing is. */
export function sumMistake(weights: number[]): string | null {
    const sum = tidy(weights.reduce((a, b) => a + b, 0));
    if (sum === 100 || !Number.isFinite(sum)) {
        return null;
    }

    return sum < 100 ? `The weights make ${sum}: ${tidy(100 - sum)} are missing.` : `The weights make ${sum}: ${tidy(sum - 100)} too many.`;
}

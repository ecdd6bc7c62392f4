<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The anytime-valid multinomial test of the sample ratio: a Bayes factor that may be looked at as often as one likes.
 *
 * Source: Michael Lindon, Alan Malek, "Anytime-Valid Inference for Multinomial Count Data" (NeurIPS 2022; arXiv:2011.03567,
 * 2020). Against the split θ that was promised stands a Dirichlet(α) prior of all other splits, and with n = Σx and A = Σα
 *
 *     BF = Γ(A) / Γ(A + n) · Π Γ(α_i + x_i) / Γ(α_i) · Π θ_i^(-x_i).
 *
 * It is a martingale where the promise is kept, so P(BF ever reaches 1/α) is at most α (Ville's inequality), and
 * min(1, 1 / largest BF so far) is a p-value at any time.
 */
final readonly class AnytimeRatio
{
    /** The prior is worth so many visitors, split as promised: it expects deviations of about two points at equal weights. */
    private const STRENGTH = 500;

    /**
     * The prior of all epochs of an experiment: one around the weights where they are always the same, else the uniform one.
     *
     * @param non-empty-list<list<int|float>> $epochs weights of each
     *
     * @return list<float> a Dirichlet parameter for each variant, a multiple of 1/2, above zero
     */
    public static function prior(array $epochs): array
    {
        $parts = array_map(static fn (array $weights): array => array_map(static fn (int|float $weight): float => round($weight / max(1e-300, array_sum($weights)), 9), $weights), $epochs);
        if (count(array_unique(array_map(serialize(...), $parts))) > 1) {
            return array_map(static fn (): float => 1.0, $epochs[0]);
        }

        return array_map(static fn (float $part): float => max(0.5, round(2 * self::STRENGTH * $part) / 2), $parts[0]);
    }

    /**
     * ln BF. The gamma functions of large numbers nearly cancel, so it is put together from Poisson terms, which do not: with
     * any p, the Dirichlet-multinomial probability is a product of negative binomial ones over that of their sum.
     *
     * @param list<int>       $counts  distinct visitors per variant
     * @param list<int|float> $weights
     * @param list<float>     $prior   see `prior()`; of a variant that nobody could be assigned to it is passed over
     *
     * @return float INF where somebody was in a variant that nobody could be assigned to
     *
     * @throws InvalidCounts
     */
    public static function logBayesFactor(array $counts, array $weights, array $prior): float
    {
        $n = array_sum($counts);
        $sum = array_sum($weights);
        if (! ($sum > 0)) {
            throw new InvalidCounts('The weights need a positive sum.', 'weights');
        }
        if ($n === 0) {
            return 0.0;
        }
        $all = array_sum(array_filter($prior, static fn (int $i): bool => $weights[$i] > 0, ARRAY_FILTER_USE_KEY));
        $log = -self::negativeBinomial($n, $all, $all, $n);
        foreach ($counts as $i => $count) {
            if ($weights[$i] <= 0) {
                if ($count > 0) {
                    return INF;
                }
                continue;
            }
            $log += self::negativeBinomial($count, $prior[$i], $all, $n) - PoissonTerm::log((float) $count, $n * $weights[$i] / $sum);
        }

        return $log + PoissonTerm::log((float) $n, (float) $n);
    }

    /** ln of Γ(x + size) / (Γ(size) x!) · p^size (1 - p)^x at p = A / (A + n), as Loader writes it. */
    private static function negativeBinomial(int $x, float $size, float $all, int $n): float
    {
        $trials = $size + $x;
        $p = $all / ($all + $n);

        return log($size / $trials) + PoissonTerm::log($size, $trials * $p) + PoissonTerm::log((float) $x, $trials * (1 - $p)) - PoissonTerm::log($trials, $trials);
    }
}

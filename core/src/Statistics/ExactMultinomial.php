<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The exact multinomial test of goodness of fit: the summed probability of every outcome no more likely than the one
 * observed, by listing all outcomes. A multinomial probability is a product of Poisson terms over the Poisson term of
 * their total, which keeps each factor accurate.
 */
final readonly class ExactMultinomial
{
    /** More outcomes than this are not listed (about a second of work). */
    public const MOST_OUTCOMES = 1_000_000;

    /** The number of ways to spread `$n` units over `$cells` cells: `(n + cells - 1) choose (cells - 1)`. */
    public static function outcomes(int $n, int $cells): float
    {
        $ways = 1.0;
        for ($i = 1; $i < $cells; $i++) {
            $ways *= ($n + $i) / $i;
        }

        return $ways;
    }

    /**
     * ln of the p-value.
     *
     * @param non-empty-list<int>   $counts
     * @param non-empty-list<float> $expected positive, with the same sum as the counts
     */
    public static function logP(array $counts, array $expected): float
    {
        $n = array_sum($counts);
        $terms = [];
        $observed = 0.0;
        foreach ($expected as $i => $mean) {
            for ($x = 0; $x <= $n; $x++) {
                $terms[$i][$x] = PoissonTerm::log((float) $x, $mean);
            }
            $observed += $terms[$i][$counts[$i]];
        }
        $total = $n === 0 ? 0.0 : PoissonTerm::log((float) $n, (float) $n);
        $sum = self::sum($terms, 0, $n, 0.0, $observed, $observed + log1p(ExactBinomial::TIE));

        return min(0.0, $observed - $total + log($sum));
    }

    /**
     * The summed probability, as a multiple of the observed one, of the outcomes that share the first cells' terms.
     *
     * @param array<int, array<int, float>> $terms
     */
    private static function sum(array $terms, int $cell, int $left, float $log, float $observed, float $limit): float
    {
        if ($cell === count($terms) - 1) {
            $log += $terms[$cell][$left];

            return $log <= $limit ? exp($log - $observed) : 0.0;
        }
        $sum = 0.0;
        for ($x = 0; $x <= $left; $x++) {
            $sum += self::sum($terms, $cell + 1, $left - $x, $log + $terms[$cell][$x], $observed, $limit);
        }

        return $sum;
    }
}

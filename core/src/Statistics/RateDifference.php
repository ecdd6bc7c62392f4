<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The difference of two independent rates: the hybrid score interval, method 10 of R. G. Newcombe, "Interval Estimation for the
 * Difference Between Independent Proportions: Comparison of Eleven Methods", Statistics in Medicine 17 (1998), made of the two
 * Wilson intervals; and the two-sided test that they are equal.
 */
final class RateDifference
{
    /** Pearson's approximation is good from so many expected in each cell on (NIST/SEMATECH e-Handbook, 1.3.5.15). */
    private const SMALLEST_EXPECTED = 5;

    /**
     * Of the first rate from the second.
     *
     * @param float $level of confidence, between 0 and 1
     *
     * @throws InvalidCounts
     */
    public static function interval(int $x1, int $n1, int $x2, int $n2, float $level): Interval
    {
        $z = Normal::above((1 - $level) / 2);
        [$l1, $u1] = Wilson::interval($x1, $n1, $z);
        [$l2, $u2] = Wilson::interval($x2, $n2, $z);
        [$p1, $p2] = [$x1 / $n1, $x2 / $n2];

        return new Interval($p1 - $p2 - sqrt(($p1 - $l1) ** 2 + ($u2 - $p2) ** 2), $p1 - $p2 + sqrt(($u1 - $p1) ** 2 + ($p2 - $l2) ** 2));
    }

    /**
     * Pearson's chi-square test without continuity correction, as R's `prop.test(correct = FALSE)`; Fisher's exact test, as R's
     * `fisher.test`, where an expected count is under 5.
     *
     * @return array{test: 'chi-square'|'fisher-exact', log_p: float} natural logarithm of the p-value: two-sided
     */
    public static function test(int $x1, int $n1, int $x2, int $n2): array
    {
        $all = $n1 + $n2;
        $reached = $x1 + $x2;
        if (min($n1, $n2) * min($reached, $all - $reached) < self::SMALLEST_EXPECTED * $all) {
            return ['test' => 'fisher-exact', 'log_p' => Hypergeometric::logFisher([$x1, $n1 - $x1], [$x2, $n2 - $x2])];
        }
        $p = $reached / $all;
        $statistic = ($x1 / $n1 - $x2 / $n2) ** 2 / ($p * (1 - $p) * (1 / $n1 + 1 / $n2));

        return ['test' => 'chi-square', 'log_p' => ChiSquare::logUpperTail($statistic, 1)];
    }
}

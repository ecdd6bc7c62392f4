<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The ratio of two independent rates. Its interval is that of the logarithm of the ratio (D. Katz, J. Baptista, S. P. Azen,
 * M. C. Pike, "Obtaining Confidence Intervals for the Risk Ratio in Cohort Studies", Biometrics 34, 1978); where counts are
 * small the score interval of P. A. R. Koopman, "Confidence Intervals for the Ratio of Two Binomial Proportions", Biometrics 40
 * (1984), which holds where a count is 0 as well.
 */
final class RateRatio
{
    /** Counts are small where fewer than so many reached it, or did not, in one of the two (common practice, no source). */
    private const SMALL = 30;

    /**
     * Of the first rate to the second, which is not 0.
     *
     * @return array{interval: Interval, method: 'log-ratio'|'koopman'} its upper end may be INF
     *
     * @throws InvalidCounts
     */
    public static function interval(int $x1, int $n1, int $x2, int $n2, float $level): array
    {
        return min($x1, $x2, $n1 - $x1, $n2 - $x2) < self::SMALL
            ? ['interval' => self::koopman($x1, $n1, $x2, $n2, $level), 'method' => 'koopman']
            : ['interval' => self::logarithmic($x1, $n1, $x2, $n2, $level), 'method' => 'log-ratio'];
    }

    /** Neither count is 0. */
    public static function logarithmic(int $x1, int $n1, int $x2, int $n2, float $level): Interval
    {
        $half = Normal::above((1 - $level) / 2) * sqrt(1 / $x1 - 1 / $n1 + 1 / $x2 - 1 / $n2);
        $log = log($x1 / $n1) - log($x2 / $n2);

        return new Interval(exp($log - $half), exp($log + $half));
    }

    /** The ratios that Koopman's chi-square statistic does not rule out. */
    public static function koopman(int $x1, int $n1, int $x2, int $n2, float $level): Interval
    {
        $limit = Normal::above((1 - $level) / 2) ** 2;
        $excess = static fn (float $logRatio): float => self::statistic(exp($logRatio), $x1, $n1, $x2, $n2) - $limit;
        // Where a count is 0 the ratio may be any down to 0, or up without end; half a success tells where to begin.
        $middle = log(max($x1, 0.5) / $n1) - log(max($x2, 0.5) / $n2);
        $low = $x1 === 0 ? 0.0 : exp($middle - Root::of(static fn (float $by): float => $excess($middle - $by), 0.0, 1.0));
        $high = $x2 === 0 ? INF : exp($middle + Root::of(static fn (float $by): float => $excess($middle + $by), 0.0, 1.0));

        return new Interval($low, $high);
    }

    private static function statistic(float $ratio, int $x1, int $n1, int $x2, int $n2): float
    {
        // The likeliest first rate among those that are `ratio` times the second: the smaller root of a quadratic equation (Koopman 1984, equation 2.2).
        $b = $ratio * ($n1 + $x2) + $x1 + $n2;
        $root = sqrt(max(0.0, $b * $b - 4 * $ratio * ($n1 + $n2) * ($x1 + $x2)));
        // 2c / (b + root) is the same as (b - root) / 2a, without cancellation.
        $p1 = min(1.0, $ratio, 2 * $ratio * ($x1 + $x2) / ($b + $root));
        $p2 = $p1 / $ratio;
        $sum = 0.0;
        foreach ([[$x1, $n1, $p1], [$x2, $n2, $p2]] as [$x, $n, $p]) {
            $sum += $p <= 0.0 || $p >= 1.0 ? ($x === ($p >= 1.0 ? $n : 0) ? 0.0 : INF) : ($x - $n * $p) ** 2 / ($n * $p * (1 - $p));
        }

        return $sum;
    }
}

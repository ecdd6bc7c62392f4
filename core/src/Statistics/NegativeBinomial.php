<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Counts that vary more than Poisson's: negative binomial with mean μ and variance `dispersion · μ` (the form NB1 of Cameron and
 * Trivedi, "Regression Analysis of Count Data", 2nd edition 2013, section 3.3); Poisson where the dispersion is 1.
 */
final class NegativeBinomial
{
    /**
     * ln P(X <= x).
     *
     * @param float $mean       not negative
     * @param float $dispersion variance over mean; what is under 1 counts as 1
     */
    public static function logAtMost(int $x, float $mean, float $dispersion): float
    {
        if ($mean <= 0) {
            return 0.0;
        }
        if ($x >= $mean) {
            // Only what is under the mean is asked for; above it the tail is no evidence of a loss.
            return 0.0;
        }
        $top = self::log($x, $mean, $dispersion);
        $sum = 0.0;
        for ($k = $x; $k >= 0; $k--) {
            $term = exp(self::log($k, $mean, $dispersion) - $top);
            $sum += $term;
            if ($term < $sum * 1e-12) {
                break;
            }
        }

        return min(0.0, $top + log($sum));
    }

    private static function log(int $x, float $mean, float $dispersion): float
    {
        if ($dispersion <= 1.0001) {
            return PoissonTerm::log((float) $x, $mean);
        }
        // Size such that the variance is dispersion · mean; a multiple of 1/2, which the Poisson terms are exact for.
        $size = max(0.5, round(2 * $mean / ($dispersion - 1)) / 2);
        $p = $size / ($size + $mean);
        $trials = $size + $x;

        return log($size / $trials) + PoissonTerm::log($size, $trials * $p) + PoissonTerm::log((float) $x, $trials * (1 - $p)) - PoissonTerm::log($trials, $trials);
    }
}

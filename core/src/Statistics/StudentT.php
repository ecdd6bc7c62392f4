<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Student's t distribution, central and noncentral: of `(Z + ncp) / S`, where Z is standard normal and S, independent of it,
 * the square root of a chi-square variable over its degrees of freedom (Johnson, Kotz, Balakrishnan, "Continuous Univariate
 * Distributions", volume 2, 2nd edition 1995, chapter 31).
 *
 * P(T > t) is the mean of P(Z > t S - ncp) over S. The trapezoid rule on ln S gives it: its error falls exponentially with the
 * step for such smooth functions that vanish at both ends (Trefethen, Weideman, "The exponentially convergent trapezoidal
 * rule", 2014). The density of S need not be normed: the same sum without the probability norms it.
 */
final class StudentT
{
    /** Where the density of ln S is under e^-45 of its peak it adds nothing. */
    private const NOTHING = 45.0;

    /**
     * P(T > t).
     *
     * @param float $df  degrees of freedom, at least 0.5
     * @param float $ncp noncentrality
     *
     * @throws InvalidCounts
     */
    public static function upperTail(float $t, float $df, float $ncp = 0.0): float
    {
        if (! ($df >= 0.5)) {
            throw new InvalidCounts('A t distribution needs degrees of freedom.');
        }
        $step = max(1e-3, min(0.3 / sqrt(2 * $df), 0.5 / max(1.0, abs($ncp)), 0.25));
        [$sum, $weights] = [0.0, 0.0];
        foreach ([1, -1] as $way) {
            for ($i = $way === 1 ? 0 : 1; ; $i++) {
                $u = $way * $i * $step;
                $log = $df * ($u - (expm1(2 * $u)) / 2);
                if ($log < -self::NOTHING) {
                    break;
                }
                $weight = exp($log);
                $weights += $weight;
                $sum += $weight * Normal::upperTail($t * exp($u) - $ncp);
            }
        }

        return $sum / $weights;
    }

    /**
     * The t that a central t variable exceeds with probability `$p`.
     *
     * @param float $p between 0 and 0.5, both excluded
     *
     * @throws InvalidCounts
     */
    public static function above(float $p, float $df): float
    {
        $low = Normal::above($p);

        return Root::of(static fn (float $t): float => log($p) - log(max(self::upperTail($t, $df), 1e-300)), $low * 0.99, max(2 * $low, 1.0));
    }
}

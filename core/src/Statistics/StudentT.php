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
     * ln P(T > t) of a central one, t not negative, as exact far out as near the middle: half of the incomplete beta function at
     * df / (df + t²) (NIST Digital Library of Mathematical Functions, 8.17; Abramowitz, Stegun, 26.7.1).
     */
    public static function logUpperTail(float $t, float $df): float
    {
        return -M_LN2 + ($t === 0.0 ? 0.0 : (new Beta($df / 2, 0.5))->logTails(log($df) - 2 * log($t))[0]);
    }

    /** Density of a central t variable. */
    public static function density(float $t, float $df): float
    {
        // Γ((df+1)/2) / Γ(df/2) sqrt(2/df) by its own expansion: the two are large and nearly cancel.
        return exp(self::logGammaRatio($df / 2) - 0.5 * log($df * M_PI) - ($df + 1) / 2 * log1p($t * $t / $df));
    }

    /** ln Γ(x + 1/2) - ln Γ(x), moved up to where the series of F. W. J. Olver (NIST DLMF 5.11.12) is exact to a double. */
    private static function logGammaRatio(float $x): float
    {
        $log = 0.0;
        for (; $x < 30; $x++) {
            $log += log($x) - log($x + 0.5);
        }
        $y = 1 / $x;

        return $log + 0.5 * log($x) + $y * (-1 / 8 + $y * $y * (1 / 192 + $y * $y * (-1 / 640 + $y * $y * 17 / 14336)));
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

<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The logarithm of a Poisson term, accurate far into the tails.
 *
 * Source: Catherine Loader, "Fast and Accurate Computation of Binomial Probabilities" (2000): the saddle-point
 * expansion keeps the large, nearly cancelling parts (log-gamma against x log x) out of the sum.
 */
final class PoissonTerm
{
    /**
     * ln of `mean^x e^-mean / Gamma(x + 1)`.
     *
     * @param float $x    not negative
     * @param float $mean positive
     */
    public static function log(float $x, float $mean): float
    {
        if ($x === 0.0) {
            return -$mean;
        }

        return -0.5 * log(2 * M_PI * $x) - self::stirlingError($x) - self::deviance($x, $mean);
    }

    /**
     * `ln(n!) - ln(sqrt(2 pi n) (n/e)^n)`.
     *
     * Loader's series in 1/n above 15; below it the factorial of a multiple of 1/2 is a short exact product, and any other
     * is moved up to where the series holds.
     */
    private static function stirlingError(float $n): float
    {
        if ($n > 15) {
            $nn = $n * $n;

            return (1 / 12 - (1 / 360 - (1 / 1260 - (1 / 1680 - (1 / 1188) / $nn) / $nn) / $nn) / $nn) / $n;
        }
        if (fmod(2 * $n, 1.0) !== 0.0) {
            $log = 0.0;
            for ($up = $n; $up <= 15; $up++) {
                $log += log($up + 1);
            }

            return self::stirlingError($up) + ($up + 0.5) * log($up) - $up - $log - ($n + 0.5) * log($n) + $n;
        }
        $factorial = fmod($n, 1.0) === 0.0 ? 1.0 : sqrt(M_PI);
        for ($k = $n; $k > 0; $k -= 1) {
            $factorial *= $k;
        }

        return log($factorial) - 0.5 * log(2 * M_PI * $n) - $n * log($n) + $n;
    }

    /** Loader's `bd0`: `x ln(x/mean) + mean - x`, by a series where the two are close. */
    private static function deviance(float $x, float $mean): float
    {
        $difference = $x - $mean;
        if (abs($difference) >= 0.1 * ($x + $mean)) {
            return $x * log($x / $mean) + $mean - $x;
        }
        $v = $difference / ($x + $mean);
        $sum = $difference * $v;
        $power = 2 * $x * $v;
        for ($j = 1; $j < 1000; $j++) {
            $power *= $v * $v;
            $next = $sum + $power / (2 * $j + 1);
            if ($next === $sum) {
                break;
            }
            $sum = $next;
        }

        return $sum;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** The upper tail of the chi-square distribution. */
final class ChiSquare
{
    /**
     * ln P(X >= statistic) for X chi-square with `$df` degrees of freedom; 0.0 at statistic 0.
     *
     * P is the regularized upper incomplete gamma function Q(df/2, statistic/2): its power series below the mode, its
     * continued fraction above. Source: NIST Digital Library of Mathematical Functions, 8.2.4, 8.7.1 and 8.9.2
     * (in the form of Legendre's continued fraction), evaluated by the modified Lentz method (Thompson, Barnett 1986).
     * Working in logarithms throughout, so that nothing underflows.
     */
    public static function logUpperTail(float $statistic, int $df): float
    {
        if ($df < 1 || is_nan($statistic) || $statistic < 0) {
            throw new InvalidCounts('A chi-square statistic is not negative and has at least one degree of freedom.');
        }
        if ($statistic === 0.0) {
            return 0.0;
        }
        if (is_infinite($statistic)) {
            return -INF;
        }
        $a = $df / 2;
        $x = $statistic / 2;
        // ln of x^a e^-x / Gamma(a)
        $logFactor = log($a) + PoissonTerm::log($a, $x);

        return $x < $a + 1
            ? log1p(-exp($logFactor + log(self::lowerSeries($a, $x))))
            : $logFactor + log(self::upperFraction($a, $x));
    }

    private static function lowerSeries(float $a, float $x): float
    {
        $term = 1 / $a;
        $sum = $term;
        for ($n = 1; $n < 100000; $n++) {
            $term *= $x / ($a + $n);
            $sum += $term;
            if ($term < $sum * 1e-17) {
                break;
            }
        }

        return $sum;
    }

    private static function upperFraction(float $a, float $x): float
    {
        $tiny = 1e-300;
        $b = $x + 1 - $a;
        $c = 1 / $tiny;
        $d = 1 / $b;
        $h = $d;
        for ($i = 1; $i < 100000; $i++) {
            $numerator = -$i * ($i - $a);
            $b += 2;
            $d = $numerator * $d + $b;
            $d = 1 / (abs($d) < $tiny ? $tiny : $d);
            $c = $b + $numerator / $c;
            $c = abs($c) < $tiny ? $tiny : $c;
            $step = $c * $d;
            $h *= $step;
            if (abs($step - 1) < 1e-16) {
                break;
            }
        }

        return $h;
    }
}

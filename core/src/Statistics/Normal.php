<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** The standard normal distribution. */
final class Normal
{
    /** P(Z > z), accurate in both tails. */
    public static function upperTail(float $z): float
    {
        if (is_infinite($z)) {
            return $z > 0 ? 0.0 : 1.0;
        }
        $tail = self::tail(abs($z));

        return $z >= 0 ? $tail : 1 - $tail;
    }

    /**
     * The z that a standard normal value exceeds with probability `$p`.
     *
     * @param float $p between 0 and 1, both excluded
     *
     * @throws InvalidCounts
     */
    public static function above(float $p): float
    {
        if (! ($p > 0 && $p < 1)) {
            throw new InvalidCounts('A probability between 0 and 1 is needed.');
        }
        if ($p > 0.5) {
            return -self::above(1 - $p);
        }
        // ln P(Z > z) is concave: Newton's method finds its root from anywhere.
        $z = sqrt(-2 * log($p)) * 0.7;
        for ($i = 0; $i < 100; $i++) {
            $tail = self::tail($z);
            $step = (log($tail) - log($p)) * $tail / self::density($z);
            $z = max(0.0, $z + $step);
            if (abs($step) < 1e-14 * max(1.0, $z)) {
                break;
            }
        }

        return $z;
    }

    /**
     * What is lost on average by choosing something that is better by a normal amount with that mean and standard deviation:
     * E[max(0, -D)].
     */
    public static function shortfall(float $mean, float $sd): float
    {
        return $sd > 0.0 ? max(0.0, $sd * self::density($mean / $sd) - $mean * self::upperTail($mean / $sd)) : max(0.0, -$mean);
    }

    /** ln of the two-sided p-value of a z. */
    public static function logP(float $z): float
    {
        return ChiSquare::logUpperTail($z * $z, 1);
    }

    private static function density(float $z): float
    {
        return exp(-0.5 * $z * $z) / sqrt(2 * M_PI);
    }

    /** Z squared is chi-square with one degree of freedom. */
    private static function tail(float $z): float
    {
        return 0.5 * exp(ChiSquare::logUpperTail($z * $z, 1));
    }
}

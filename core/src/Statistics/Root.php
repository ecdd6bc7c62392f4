<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** Where a function that rises crosses zero. */
final class Root
{
    private const MOST_STEPS = 200;

    /**
     * The root between two points; `$high` is moved up until it is above the root.
     *
     * By the false position with the Illinois rule (Dowell, Jarratt 1971): always bracketed, and nearly as quick as the secant.
     *
     * @param callable(float): float $rising
     *
     * @return float `$low` where the function is above zero there already; INF where no root was found below 1e15
     */
    public static function of(callable $rising, float $low, float $high): float
    {
        $below = $rising($low);
        if ($below >= 0) {
            return $low;
        }
        $above = $rising($high);
        while ($above < 0) {
            if ($high > 1e15) {
                return INF;
            }
            [$low, $below] = [$high, $above];
            $high *= 2;
            $above = $rising($high);
        }

        return self::between($rising, $low, $below, $high, $above);
    }

    /** @param callable(float): float $rising */
    private static function between(callable $rising, float $low, float $below, float $high, float $above): float
    {
        $side = 0;
        for ($i = 0; $i < self::MOST_STEPS && $high - $low > 1e-12 * max(abs($low), abs($high), 1e-300); $i++) {
            // Every few steps the middle, so that a curve that is flat at one end cannot hold it up.
            $next = $i % 4 === 3 || is_infinite($below) || is_infinite($above) ? ($low + $high) / 2 : ($low * $above - $high * $below) / ($above - $below);
            $value = $rising($next);
            if ($value === 0.0) {
                return $next;
            }
            if ($value < 0) {
                [$low, $below] = [$next, $value];
                $above /= $side === -1 ? 2 : 1;
                $side = -1;
            } else {
                [$high, $above] = [$next, $value];
                $below /= $side === 1 ? 2 : 1;
                $side = 1;
            }
        }

        return ($low + $high) / 2;
    }
}

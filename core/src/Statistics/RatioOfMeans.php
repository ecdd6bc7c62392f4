<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * A ratio whose parts are sums over visitors, such as orders per session: sessions of one visitor hang together, so the ratio is
 * one of two means over visitors, and its variance comes by the delta method (A. Deng, U. Knoblich, J. Lu, "Applying the Delta
 * Method in Metric Analytics", KDD 2018, equation 3).
 */
final class RatioOfMeans
{
    /**
     * @param float $y   mean of what is above the line
     * @param float $x   mean of what is under it, not 0
     * @param float $yy  variance of a single visitor's `y`
     * @param float $xx  variance of a single visitor's `x`
     * @param float $xy  covariance of both
     * @param int   $n   visitors
     *
     * @return array{value: float, variance: float} the variance of the ratio
     */
    public static function of(float $y, float $x, float $yy, float $xx, float $xy, int $n): array
    {
        $ratio = $y / $x;

        return ['value' => $ratio, 'variance' => max(0.0, $yy - 2 * $ratio * $xy + $ratio * $ratio * $xx) / ($n * $x * $x)];
    }
}

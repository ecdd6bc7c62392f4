<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Many tests at once: adjusted so that, of those called out at a level, no more than that part is expected to be false.
 *
 * Source: Yoav Benjamini, Yosef Hochberg, "Controlling the False Discovery Rate", Journal of the Royal Statistical Society B 57
 * (1995); as R's `p.adjust(method = "BH")`.
 */
final class FalseDiscovery
{
    /**
     * @template K of array-key
     *
     * @param array<K, float> $logP natural logarithm of each p-value
     *
     * @return array<K, float> natural logarithm of each adjusted one, in the same places
     */
    public static function adjust(array $logP): array
    {
        $m = count($logP);
        arsort($logP);
        $least = 0.0;
        $rank = $m;
        $adjusted = [];
        foreach ($logP as $key => $log) {
            $least = min($least, $log + log($m / $rank));
            $adjusted[$key] = $least;
            $rank--;
        }

        return $adjusted;
    }
}

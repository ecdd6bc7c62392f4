<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Several comparisons at once: adjusted so that the chance that any of those called out at a level is false stays under it.
 *
 * Source: Sture Holm, "A Simple Sequentially Rejective Multiple Test Procedure", Scandinavian Journal of Statistics 6 (1979); as
 * R's `p.adjust(method = "holm")`.
 */
final class Holm
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
        asort($logP);
        $left = count($logP);
        $most = -INF;
        $adjusted = [];
        foreach ($logP as $key => $log) {
            $most = max($most, min(0.0, $log + log($left--)));
            $adjusted[$key] = $most;
        }

        return $adjusted;
    }
}

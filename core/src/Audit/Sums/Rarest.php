<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

/** What is let go of where there is too much: the rarest, and of the equally rare those whose names come last, whatever came first. */
final class Rarest
{
    /**
     * @param array<array-key, int> $sizes     key => how much there is of it; `''`, which is everything, is never let go of
     * @param array<array-key, int> $cells     key => how many numbers it takes
     * @param int                   $mostKeys  nothing is let go of up to here
     * @param int                   $mostCells and here
     *
     * @return list<array-key> keys
     */
    public static function of(array $sizes, array $cells, int $mostKeys, int $mostCells): array
    {
        if (count($cells) <= $mostKeys && array_sum($cells) <= $mostCells) {
            return [];
        }
        unset($sizes['']);
        uksort($sizes, static fn (string|int $a, string|int $b): int => $sizes[$b] <=> $sizes[$a] ?: strcmp((string) $a, (string) $b));
        $gone = [];
        $kept = 0;
        foreach (array_keys($sizes) as $rank => $key) {
            $kept += $cells[$key];
            // Some more than needed, so that it is not to be done again at once.
            if ($rank >= 0.6 * $mostKeys || $kept > 0.7 * $mostCells) {
                $gone[] = $key;
            }
        }

        return $gone;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

/** What is let go of where there is too much: the rarest, and of the equally rare those whose names come last, whatever came first. */
final class Rarest
{
    /**
     * @param array<array-key, int> $cells     key => how many numbers it takes; `''`, which is everything, is never let go of
     * @param callable(string): int $size      key => how much there is of it; asked where there is too much alone
     * @param int                   $mostKeys  nothing is let go of up to here
     * @param int                   $mostCells and here
     *
     * @return list<array-key> keys
     */
    public static function of(array $cells, callable $size, int $mostKeys, int $mostCells): array
    {
        if (count($cells) <= $mostKeys && array_sum($cells) <= $mostCells) {
            return [];
        }
        unset($cells['']);
        $sizes = array_map(static fn (string|int $key): int => $size((string) $key), array_combine(array_keys($cells), array_keys($cells)));
        // By their names first: sorting keeps the order of what is equal.
        ksort($sizes, SORT_STRING);
        arsort($sizes, SORT_NUMERIC);
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

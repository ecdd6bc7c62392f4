<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Audit\Shapes\Rhythm;

/**
 * By how much more the difference of two counts varies from day to day than it would if each visitor was lost by itself. Two sources
 * that each miss some visitors and count others twice may agree in sum and still vary; to take that for certainty would
 * find faults where there are none. Measured by the median of the deviations, so that a few bad days do not hide themselves.
 */
final class Spread
{
    /** Of fewer numbers it cannot be told. */
    private const FEWEST = 6;

    /** The median absolute deviation of a normal variable, times this, is its standard deviation. */
    private const NORMAL = 1.4826;

    /**
     * @param array<string, array<string, array{int, int}>> $cells day => variant => ours and theirs
     * @param bool                                          $within whether what all variants of a day have in common is left out
     *
     * @return float 1 at least
     */
    public static function of(array $cells, bool $within): float
    {
        $sums = [];
        foreach ($cells as $variants) {
            foreach ($variants as $variant => [$ours, $theirs]) {
                $sums[$variant] = [($sums[$variant][0] ?? 0) + $ours, ($sums[$variant][1] ?? 0) + $theirs];
            }
        }
        $rates = array_map(static fn (array $sum): float => $sum[1] === 0 ? 1.0 : $sum[0] / $sum[1], $sums);
        $deviations = [];
        foreach ($cells as $variants) {
            $expected = [];
            foreach ($variants as $variant => [, $theirs]) {
                $expected[$variant] = $rates[$variant] * $theirs;
            }
            $day = $within && array_sum($expected) > 0 ? array_sum(array_column($variants, 0)) / array_sum($expected) : 1.0;
            foreach ($variants as $variant => [$ours, $theirs]) {
                if ($theirs > 0) {
                    $lost = min(0.5, max(abs($rates[$variant] - 1), 1 / $theirs));
                    $deviations[] = abs($ours - $day * $expected[$variant]) / sqrt(max(1.0, max($ours, $theirs) * $lost * (1 - $lost)));
                }
            }
        }
        $freed = count($sums) < 2 || ! $within ? 1.0 : count($sums) / (count($sums) - 1);

        return count($deviations) < self::FEWEST ? 1.0 : max(1.0, $freed * (self::NORMAL * Rhythm::median($deviations)) ** 2);
    }

    /**
     * The variance of the difference for each visitor.
     *
     * @param array<string, array<string, array{int, int}>> $cells
     * @param array<string, array{int, int}>                $sums  variant => ours and theirs
     *
     * @return array<string, float|null> null where days vary as chance makes them
     */
    public static function variances(array $cells, array $sums): array
    {
        $spread = self::of($cells, false);
        $variances = [];
        foreach ($sums as $variant => [$ours, $theirs]) {
            $lost = min(0.5, max($theirs === 0 ? 0.0 : abs($ours / $theirs - 1), count($cells) / max(1, $theirs)));
            $variances[(string) $variant] = $spread > 1 ? $spread * $lost * (1 - $lost) : null;
        }

        return $variances;
    }
}

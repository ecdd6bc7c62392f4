<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * Rates of variants over epochs with different weights: visitors of one epoch are compared with each other alone, and the
 * epochs are joined. Adding up all visitors of a variant instead would mix what the weights did with what the variants did
 * (Simpson's paradox).
 *
 * - A *joined rate* is standardised directly: each epoch's rate counts with the part of all visitors that entered in it
 *   (Rothman, Greenland, Lash, "Modern Epidemiology", 3rd edition 2008, chapter 15), over the epochs that every compared
 *   variant has visitors in.
 * - A *joined difference* is the Mantel-Haenszel risk difference with the variance of Sato (1989), "On the variance estimator
 *   for the Mantel-Haenszel risk difference", Biometrics 45.
 */
final readonly class StratifiedRates
{
    /** @param list<array{units: list<int>, reached: list<int>}> $epochs units and how many of them reached the goal, per variant */
    public function __construct(private array $epochs)
    {
    }

    /**
     * The joined rate of each variant: over the epochs that all those have visitors in that still take some in; of one that was
     * stopped, over those of these that it has visitors in, too.
     *
     * @return list<float|null> null for one that shares no epoch with them
     */
    public function rates(): array
    {
        $compared = $this->taking();
        $shared = array_values(array_filter($this->epochs, static fn (array $epoch): bool => self::haveVisitors($epoch, $compared)));
        $rates = [];
        foreach (array_keys($this->epochs[0]['units'] ?? []) as $variant) {
            $rates[] = self::rate($variant, array_values(array_filter($shared, static fn (array $epoch): bool => $epoch['units'][$variant] > 0)));
        }

        return $rates;
    }

    /** @return list<int> the variants that visitors were taken into in the last epoch that took any in */
    private function taking(): array
    {
        foreach (array_reverse($this->epochs) as $epoch) {
            if (array_sum($epoch['units']) > 0) {
                return array_keys(array_filter($epoch['units']));
            }
        }

        return [];
    }

    /**
     * @param array{units: list<int>, reached: list<int>} $epoch
     * @param list<int>                                   $variants
     */
    private static function haveVisitors(array $epoch, array $variants): bool
    {
        return array_filter($variants, static fn (int $variant): bool => $epoch['units'][$variant] === 0) === [];
    }

    /** @param list<array{units: list<int>, reached: list<int>}> $epochs that the variant has visitors in */
    private static function rate(int $variant, array $epochs): ?float
    {
        $all = array_sum(array_map(static fn (array $epoch): int => array_sum($epoch['units']), $epochs));

        return $all === 0 ? null : array_sum(array_map(static fn (array $epoch): float => array_sum($epoch['units']) / $all * $epoch['reached'][$variant] / $epoch['units'][$variant], $epochs));
    }

    /**
     * The joined difference of a variant's rate from another's.
     *
     * @return array{difference: float, error: float}|null with its standard error; null where no epoch has visitors of both
     */
    public function difference(int $variant, int $control): ?array
    {
        $weight = $sum = $p = $q = 0.0;
        foreach ($this->epochs as $epoch) {
            [$n, $m] = [$epoch['units'][$variant], $epoch['units'][$control]];
            [$a, $c] = [$epoch['reached'][$variant], $epoch['reached'][$control]];
            if ($n === 0 || $m === 0) {
                continue;
            }
            $all = $n + $m;
            $weight += $n * $m / $all;
            $sum += ($a * $m - $c * $n) / $all;
            $p += ($n ** 2 * $c - $m ** 2 * $a + $n * $m * ($m - $n) / 2) / $all ** 2;
            $q += ($a * ($m - $c) + $c * ($n - $a)) / (2 * $all);
        }
        if ($weight <= 0.0) {
            return null;
        }
        $difference = $sum / $weight;

        return ['difference' => $difference, 'error' => sqrt(max(0.0, $difference * $p + $q)) / $weight];
    }
}

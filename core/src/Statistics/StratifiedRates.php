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
     * The joined rate of each variant; null for one that has nobody in any epoch that the others have visitors in.
     *
     * @return list<float|null>
     */
    public function rates(): array
    {
        $variants = count($this->epochs[0]['units'] ?? []);
        $taking = array_values(array_filter(range(0, max(0, $variants - 1)), fn (int $v): bool => $variants > 0 && array_sum(array_map(static fn (array $epoch): int => $epoch['units'][$v], $this->epochs)) > 0));
        $shared = array_values(array_filter($this->epochs, static fn (array $epoch): bool => min(array_map(static fn (int $v): int => $epoch['units'][$v], $taking) ?: [0]) > 0));
        $all = array_sum(array_map(static fn (array $epoch): int => array_sum($epoch['units']), $shared));
        $rates = [];
        for ($v = 0; $v < $variants; $v++) {
            $rates[] = $all === 0 || ! in_array($v, $taking, true) ? null
                : array_sum(array_map(static fn (array $epoch): float => array_sum($epoch['units']) / $all * $epoch['reached'][$v] / $epoch['units'][$v], $shared));
        }

        return $rates;
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

<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Bootstrap;
use Pellix\Core\Statistics\Normal;

/** How the values of visitors are spread in a goal that has one: quantiles, how few of them decide, and whether Welch's interval can be trusted. */
final class Distribution
{
    private const QUANTILES = [0.5, 0.9, 0.99];

    /** Of the largest visitors so many are taken away one by one, to see what decides. */
    private const LARGEST = 10;

    /**
     * @return array{item: string, variants: list<array<string, mixed>>, bootstrap: list<array{variant: string, low: float, high: float}>}|null null for an item that is no mean
     *         of values. `skewed`: whether there are fewer units than 355 skewness² (R. Kohavi, A. Deng, R. Longbotham, Y. Xu, "Seven Rules of Thumb
     *         for Web Site Experimenters", KDD 2014, rule 7): then a bootstrap stands beside Welch's interval
     */
    public static function of(Item $item, Subject $subject, Table $table, Look $look): ?array
    {
        if ($item->measure !== Measure::Mean || $item->goal === null) {
            return null;
        }
        $variants = $values = [];
        $isSkewed = false;
        foreach ($subject->variants as $variant => $key) {
            $all = Comparison::all($item->measure, $table->samples($item, $variant));
            $sizes = array_values(array_map(static fn (array $one): array => [$one[0], $one[1] / $one[0]], $table->sizes($item, $variant)));
            $valued = (int) array_sum(array_column($sizes, 0));
            $skewness = $all->n > 1 ? $all->skewness() : 0.0;
            $needed = (int) min(PHP_INT_MAX / 2, ceil(355 * $skewness ** 2));
            $isSkewed = $isSkewed || $all->n < $needed;
            $values[$variant] = [...$sizes, [max(0, $all->n - $valued), 0.0]];
            $variants[] = [
                'key' => $key, 'n' => $all->n, 'with_value' => $valued, 'capped' => $all->capped, 'skewness' => $skewness, 'needed' => $needed, 'skewed' => $all->n < $needed,
                'quantiles' => array_map(static fn (float $q): array => self::quantile($sizes, $valued, $q, $look->level), self::QUANTILES),
                'largest' => self::largest($sizes, $all),
                'histogram' => self::histogram($sizes),
            ];
        }

        return [
            'item' => $item->key,
            'variants' => $variants,
            'bootstrap' => ! $isSkewed ? [] : array_map(static function (int $variant) use ($subject, $values, $look): array {
                $interval = Bootstrap::interval($values[$variant], $values[$subject->control], $look->level);

                return ['variant' => $subject->variants[$variant], 'low' => $interval->low, 'high' => $interval->high];
            }, array_values(array_filter(array_keys($subject->variants), static fn (int $variant): bool => $variant !== $subject->control))),
        ];
    }

    /**
     * Of those who have a value, to about 1 %; its interval by the ranks that a binomial number allows (W. J. Conover, "Practical Nonparametric
     * Statistics", 3rd edition 1999, section 3.2, large samples).
     *
     * @param list<array{int, float}> $sizes
     *
     * @return array{q: float, value: float|null, low: float|null, high: float|null}
     */
    private static function quantile(array $sizes, int $n, float $q, float $level): array
    {
        $half = Normal::above((1 - $level) / 2) * sqrt($n * $q * (1 - $q));
        $low = $n * $q - $half;
        $high = $n * $q + $half;

        return ['q' => $q, 'value' => self::ranked($sizes, max(1, (int) ceil($n * $q))), 'low' => $low < 1 ? null : self::ranked($sizes, (int) floor($low)), 'high' => $high > $n ? null : self::ranked($sizes, (int) ceil($high))];
    }

    /** @param list<array{int, float}> $sizes */
    private static function ranked(array $sizes, int $rank): ?float
    {
        foreach ($sizes as [$units, $value]) {
            $rank -= $units;
            if ($rank <= 0) {
                return $value;
            }
        }

        return null;
    }

    /**
     * What part of all value the largest visitors bring, and what the mean would be without them.
     *
     * @param list<array{int, float}> $sizes
     *
     * @return list<array{visitors: int, value: float, share: float, mean_without: float}>
     */
    private static function largest(array $sizes, Sample $all): array
    {
        $taken = [];
        $sum = 0.0;
        foreach (array_reverse($sizes) as [$units, $value]) {
            for ($i = 0; $i < $units && count($taken) < self::LARGEST; $i++) {
                $sum += $value;
                $taken[] = ['visitors' => count($taken) + 1, 'value' => $value, 'share' => $all->y == 0.0 ? 0.0 : $sum / $all->y, 'mean_without' => ($all->y - $sum) / max(1, $all->n - count($taken) - 1)];
            }
        }

        return $taken;
    }

    /**
     * Bins of a fifth of a tenfold.
     *
     * @param list<array{int, float}> $sizes
     *
     * @return list<array{from: float, to: float, units: int}> of values above 0
     */
    private static function histogram(array $sizes): array
    {
        $bins = [];
        foreach ($sizes as [$units, $value]) {
            if ($value > 0) {
                $bin = (int) floor(5 * log10($value) + 1e-9);
                $bins[$bin] = ($bins[$bin] ?? 0) + $units;
            }
        }
        ksort($bins);

        return array_map(static fn (int $bin, int $units): array => ['from' => 10 ** ($bin / 5), 'to' => 10 ** (($bin + 1) / 5), 'units' => $units], array_keys($bins), $bins);
    }
}

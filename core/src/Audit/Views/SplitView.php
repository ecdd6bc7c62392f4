<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Views;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Statistics\AnytimeRatio;

/**
 * The split as it came about, look by look: each variant's share of the visitors of its epoch so far, and between which shares
 * the anytime-valid test (Lindon, Malek 2020) leaves it. Each variant is held against all others together, for which the prior
 * is a beta distribution.
 */
final class SplitView
{
    /** More looks than that are no picture: then a look is a day, else three hours. */
    private const MOST_LOOKS = 120;
    private const STEP = 3;

    /** @return array{alpha: float, variants: list<string>, epochs: list<array{from: string|null, weights: list<float>}>, crossed: string|null, p: float, looks: list<array<string, mixed>>} */
    public static function of(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $variants = count($setup->variants);
        $weights = array_map($setup->weights(...), array_keys($setup->epochs));
        /** @var non-empty-list<list<float>> $weights */
        $prior = AnytimeRatio::prior($weights);
        $counts = array_map(static fn (): array => array_fill(0, $variants, 0), $weights);
        $logs = array_fill(0, count($weights), 0.0);
        $looks = [];
        foreach (self::looks($evidence) as $at => $epochs) {
            foreach ($epochs as $epoch => $numbers) {
                foreach ($numbers as $variant => $number) {
                    if ($variant < $variants) {
                        $counts[$epoch][$variant] += $number;
                    }
                }
                if (array_sum($counts[$epoch]) === 0 || array_sum($weights[$epoch]) <= 0) {
                    continue;
                }
                $own = array_values($counts[$epoch]);
                $logs[$epoch] = AnytimeRatio::logBayesFactor($own, $weights[$epoch], $prior);
                $left = -log($setup->alpha) - (array_sum($logs) - $logs[$epoch]);
                $looks[] = self::look($at, $epoch, $own, $weights[$epoch], $prior, $left, array_sum($logs));
            }
        }
        $sequential = $evidence->ratio->sequential();

        return [
            'alpha' => $setup->alpha, 'variants' => $setup->variants,
            'epochs' => array_map(static fn (int $from, array $of): array => ['from' => $from === PHP_INT_MAX ? null : Finding::time($from), 'weights' => array_map(static fn (float $weight): float => $weight / max(1e-300, array_sum($of)), $of)], $setup->epochs, $weights),
            'crossed' => $evidence->hasTimes ? $sequential['crossed'] : null, 'p' => $sequential['p'], 'looks' => $looks,
        ];
    }

    /** @return array<int, array<int, array<int, int>>> end of a look in milliseconds => epoch => variant => visitors since the look before */
    private static function looks(Evidence $evidence): array
    {
        $hours = $evidence->tally->split->exposed->byHour();
        $all = array_map(Cohorts::hour(...), array_keys($hours));
        $isByDay = $all !== [] && max($all) - min($all) > self::MOST_LOOKS * self::STEP;
        $zone = $evidence->setup->settings->zone;
        $looks = $ends = [];
        foreach ($hours as $place => [$epoch, $numbers]) {
            $hour = Cohorts::hour($place);
            $step = $isByDay ? $evidence->ratio->day($hour) : (string) intdiv($hour, self::STEP);
            $end = $ends[$step] ??= $isByDay ? 1000 * (new \DateTimeImmutable($step, $zone))->modify('+1 day')->getTimestamp() : 3_600_000 * self::STEP * (1 + (int) $step);
            foreach ($numbers as $variant => $number) {
                $looks[$end][$epoch][$variant] = ($looks[$end][$epoch][$variant] ?? 0) + $number;
            }
        }
        ksort($looks);

        return array_map(static function (array $epochs): array {
            ksort($epochs);

            return $epochs;
        }, $looks);
    }

    /**
     * @param list<int>   $counts
     * @param list<float> $weights
     * @param list<float> $prior
     * @param float       $left  how large ln BF of this epoch may become
     *
     * @return array<string, mixed>
     */
    private static function look(int $at, int $epoch, array $counts, array $weights, array $prior, float $left, float $log): array
    {
        $n = array_sum($counts);
        $sum = array_sum($weights);
        $low = $high = [];
        foreach ($counts as $variant => $count) {
            [$low[], $high[]] = array_map(static fn (float $end): float => round($end / $n, 6), self::bounds($n, $weights[$variant] / $sum, $prior[$variant], array_sum($prior) - $prior[$variant], $left));
        }

        return ['until' => Finding::time($at), 'epoch' => $epoch, 'visitors' => $counts, 'share' => array_map(static fn (int $count): float => round($count / $n, 6), $counts), 'low' => $low, 'high' => $high, 'log_bayes_factor' => is_finite($log) ? round($log, 6) : null];
    }

    /**
     * The fewest and the most visitors of a variant at which ln BF is not above a limit.
     *
     * @return array{float, float}
     */
    private static function bounds(int $n, float $weight, float $own, float $others, float $limit): array
    {
        if ($weight <= 0 || $weight >= 1) {
            return [$n * $weight, $n * $weight];
        }
        $log = static fn (int $x): float => AnytimeRatio::logBayesFactor([$x, $n - $x], [$weight, 1 - $weight], [$own, $others]);
        $middle = (int) round($n * $weight);
        if ($log($middle) > $limit) {
            return [$n * $weight, $n * $weight];
        }

        return [(float) self::edge($log, $middle, 0, $limit), (float) self::edge($log, $middle, $n, $limit)];
    }

    /** @param callable(int): float $log rises from the middle outward */
    private static function edge(callable $log, int $within, int $end, float $limit): int
    {
        if ($log($end) <= $limit) {
            return $end;
        }
        $beyond = $end;
        while (abs($beyond - $within) > 1) {
            $middle = intdiv($beyond + $within, 2);
            if ($log($middle) <= $limit) {
                $within = $middle;
            } else {
                $beyond = $middle;
            }
        }

        return $within;
    }
}

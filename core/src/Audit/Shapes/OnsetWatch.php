<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Statistics\AnytimeRatio;

/**
 * Watches day by day for a split that breaks at any moment of the run. A Bayes factor of the whole run takes long to notice what
 * begins after weeks that were sound; so the Bayes factors (Lindon, Malek 2020) of the run from each of its days on are
 * averaged: nine tenths of the weight on what begins on one of the first 63 days after the first, evenly, a twentieth on the whole run (for which
 * there is a test of its own: srm.sequential), the rest on later days, the less the later; each with one prior that expects small deviations and one that expects large ones. An average of such martingales, with weights that sum to one, is one itself, so
 * that it is above 1/α ever with probability α at most (Ville), however often one looks.
 */
final readonly class OnsetWatch
{
    /** How many visitors priors are worth: the more, the smaller the deviations that they expect. */
    private const STRENGTHS = [500, 20];

    /** Runs that are longer are watched for what begins within so many days. */
    private const MOST_DAYS = 200;

    private const NEXT_DAYS = 63;

    /**
     * @param float       $log     ln of the average, at its largest so far
     * @param string|null $crossed the day on which it first was above 1/α
     * @param string|null $since   the day from which on the split is off most clearly then
     */
    private function __construct(public float $log, public ?string $crossed, public ?string $since)
    {
    }

    /**
     * @param array<string, array<int, array<int, int>>> $days    day => epoch => variant => visitors, in the order of time
     * @param non-empty-list<list<float>>                $weights of each epoch
     */
    public static function of(array $days, array $weights, float $alpha): self
    {
        $names = array_keys($days);
        /** @var list<array<int, array<int, int>>> $sums for each day that it may begin on: epoch => visitors since */
        $sums = [];
        [$largest, $crossed, $since] = [0.0, null, null];
        foreach ($names as $i => $day) {
            if ($i < self::MOST_DAYS) {
                $sums[] = [];
            }
            [$terms, $best, $at] = [[], -INF, 0];
            foreach ($sums as $j => $epochs) {
                foreach ($days[$day] as $epoch => $numbers) {
                    $sums[$j][$epoch] ??= array_fill(0, count($weights[0]), 0);
                    foreach ($numbers as $variant => $number) {
                        $sums[$j][$epoch][$variant] += $number;
                    }
                }
                $log = self::bayesFactor($sums[$j], $weights) + log(self::weight($j));
                $terms[] = $log;
                [$best, $at] = $log > $best ? [$log, $j] : [$best, $at];
            }
            $log = $best === INF ? INF : $best + log(array_sum(array_map(static fn (float $one): float => exp($one - $best), $terms)));
            $largest = max($largest, $log);
            if ($crossed === null && $largest > -log($alpha)) {
                [$crossed, $since] = [(string) $day, (string) $names[$at]];
            }
        }

        return new self($largest, $crossed, $since);
    }

    /** @return float of what begins on a day of the run, from 0: they sum to one */
    private static function weight(int $day): float
    {
        return match (true) {
            $day === 0 => 0.05,
            $day <= self::NEXT_DAYS => 0.9 / self::NEXT_DAYS,
            default => 0.05 * (self::NEXT_DAYS + 1) / ($day * ($day + 1)),
        };
    }

    /**
     * @param array<int, array<int, int>> $epochs
     * @param non-empty-list<list<float>> $weights
     *
     * @return float ln of the average over the priors
     */
    private static function bayesFactor(array $epochs, array $weights): float
    {
        $logs = [];
        foreach (self::STRENGTHS as $strength) {
            $log = 0.0;
            foreach ($epochs as $epoch => $counts) {
                $sum = array_sum($weights[$epoch]);
                $log += $sum > 0 ? AnytimeRatio::logBayesFactor(array_values($counts), $weights[$epoch], array_map(static fn (float $weight): float => max(0.5, round(2 * $strength * $weight / $sum) / 2), $weights[$epoch])) : 0.0;
            }
            $logs[] = $log;
        }
        $most = max($logs);

        return $most === INF ? INF : $most + log(array_sum(array_map(static fn (float $one): float => exp($one - $most), $logs)) / count($logs));
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Statistics\ChiSquare;
use Pellix\Core\Statistics\LikelihoodRatio;

/**
 * When the split left what was promised: the stretch of hours whose likelihood ratio against the weights (of the epoch of each
 * visitor) is largest, G² = 2 Σ x ln(x / expected), as between a split that is free there and as promised elsewhere.
 */
final readonly class RatioBreak
{
    /** A stretch that is shorter than all has to be better by so much (of G²): that much chance gives by the choice of ends. */
    private const CHOICE = 6.0;

    /**
     * @param int|null  $since    milliseconds; null where it was there from the start
     * @param int|null  $until    null where it goes on
     * @param float     $logP     ln p of the stretch, times the number of places it could begin at
     * @param list<int> $observed in the stretch, by variant
     * @param list<float> $expected
     */
    private function __construct(public ?int $since, public ?int $until, public float $logP, public array $observed, public array $expected)
    {
    }

    /**
     * Null where there are too few visitors.
     *
     * @param int $step hours that each place holds
     */
    public static function of(Cohorts $exposed, string $key, Setup $setup, int $step = 1): ?self
    {
        $n = count($setup->variants);
        $hours = [];
        $x = [array_fill(0, $n, 0)];
        $e = [array_fill(0, $n, 0.0)];
        $weights = [];
        foreach ($exposed->byHour($key) as $place => [$epoch, $numbers]) {
            $weights[$epoch] ??= self::parts($setup->weights($epoch));
            $all = array_sum($numbers);
            $last = count($hours);
            $hours[] = Cohorts::hour($place);
            $x[] = array_map(static fn (int $before, int $v): int => $before + ($numbers[$v] ?? 0), $x[$last], array_keys($x[$last]));
            $e[] = array_map(static fn (float $before, float $part): float => $before + $all * $part, $e[$last], $weights[$epoch]);
        }
        $length = count($hours);
        if ($length < 2) {
            return null;
        }
        $score = static fn (int $from, int $to): float => LikelihoodRatio::ofCounts(self::minus($x[$to], $x[$from]), self::minus($e[$to], $e[$from]));
        [$from, $to, $best] = Scan::best($length, $score);
        $whole = $score(0, $length);
        // Each end that is given up has to earn it.
        $toEnd = $to < $length ? self::until($score, $length) : [$from, $best];
        if ($to < $length && $best < $toEnd[1] + self::CHOICE) {
            [$from, $to, $best] = [$toEnd[0], $length, $toEnd[1]];
        }
        $fromStart = $from > 0 && $to < $length ? self::since($score, $length) : [$to, $whole];
        if ($from > 0 && $best < $fromStart[1] + self::CHOICE) {
            [$from, $to, $best] = [0, $fromStart[0], $fromStart[1]];
        }
        if ($to < $length && $from === 0 && $best < $whole + self::CHOICE) {
            [$to, $best] = [$length, $whole];
        }
        [$observed, $expected] = [self::minus($x[$to], $x[$from]), self::minus($e[$to], $e[$from])];

        return new self(
            $from === 0 ? null : 3_600_000 * ($hours[$from] ?? 0),
            $to === $length ? null : 3_600_000 * (($hours[$to - 1] ?? 0) + $step),
            min(0.0, ChiSquare::logUpperTail(max(0.0, $best), max(1, count(array_filter($expected)) - 1)) + log(self::places($from, $to, $length))),
            $observed,
            $expected,
        );
    }

    /**
     * @template N of int|float
     *
     * @param list<N> $after
     * @param list<N> $before
     *
     * @return list<N>
     */
    private static function minus(array $after, array $before): array
    {
        /** @var list<N> */
        return array_map(static fn (int|float $one, int|float $other): int|float => $one - $other, $after, $before);
    }

    /** Stretches that were looked at: one, as many as places, or pairs of them. */
    private static function places(int $from, int $to, int $length): float
    {
        return ($from > 0 ? $length : 1) * ($to < $length ? $length : 1);
    }

    /**
     * @param callable(int, int): float $score
     *
     * @return array{int, float} the best beginning of a stretch up to the end
     */
    private static function until(callable $score, int $length): array
    {
        $best = [0, $score(0, $length)];
        for ($from = 1; $from < $length; $from++) {
            $is = $score($from, $length);
            $best = $is > $best[1] ? [$from, $is] : $best;
        }

        return $best;
    }

    /**
     * @param callable(int, int): float $score
     *
     * @return array{int, float} the best end of a stretch from the start
     */
    private static function since(callable $score, int $length): array
    {
        $best = [$length, $score(0, $length)];
        for ($to = 1; $to < $length; $to++) {
            $is = $score(0, $to);
            $best = $is > $best[1] ? [$to, $is] : $best;
        }

        return $best;
    }

    /**
     * @param list<float> $weights
     *
     * @return list<float>
     */
    private static function parts(array $weights): array
    {
        $sum = array_sum($weights);

        return array_map(static fn (float $weight): float => $sum > 0 ? $weight / $sum : 0.0, $weights);
    }
}

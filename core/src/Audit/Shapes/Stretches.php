<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Statistics\LikelihoodRatio;
use Pellix\Core\Statistics\NegativeBinomial;

/** Stretches of a series of hours in which there is less than expected: nothing at all, or too little. */
final readonly class Stretches
{
    /** No visit for so long that it is as unlikely as that; and, with all stretches and parts that were looked at, as that. */
    private const SILENT = 1e-6;
    private const SILENT_OF_ALL = 0.002;

    /** A drop lasts for hours, is that deep, and loses so many events (common practice, no source); chance gives it as rarely as that. */
    private const DEEP = 0.7;
    private const HOURS = 2;
    private const LOST = 25;
    private const DROP_OF_ALL = 1e-4;
    private const MOST_DROPS = 3;

    /** Between what a drop has at most and what is expected. */
    private const LITTLE_LESS = 0.82;

    /** Beginnings and lengths that are about as good as each other, to each stretch of a length that lies apart from the others. */
    private const CHOICES = 50;

    /** Hours before and after a stretch in which its ends are looked for once more. */
    private const AROUND = 12;

    /** A drop that lasts to the end is the simpler description, unless another end is better by so much. */
    private const SIMPLER = 8;

    /** @var list<int> */
    private array $hours;

    /**
     * @param array<int, int>   $own        hour => events (or visits)
     * @param array<int, float> $expected   hour => how many of them were to be expected
     * @param float             $dispersion variance over mean
     * @param float             $days       how much days vary by themselves (standard deviation over mean)
     * @param int               $keys       parts that are looked at in all
     * @param int               $end        hour after the last of the log
     */
    public function __construct(private string $key, private array $own, private array $expected, private float $dispersion, private float $days, private int $keys, private int $end)
    {
        $this->hours = array_keys($expected);
    }

    /**
     * Stretches without any visit.
     *
     * @param float $each events of a visit
     *
     * @return list<Gap>
     */
    public function silences(float $each): array
    {
        $length = count($this->hours);
        $found = [];
        $begin = null;
        $sum = 0.0;
        for ($i = 0; $i <= $length; $i++) {
            if ($i < $length && ($this->own[$this->hours[$i]] ?? 0) === 0) {
                $begin ??= $i;
                $sum += $this->expected[$this->hours[$i]];
                continue;
            }
            if ($begin !== null) {
                $logP = NegativeBinomial::logAtMost(0, $sum * max(0.4, 1 - 2 * $this->days), $this->dispersion);
                $ofAll = $logP + log($this->keys * max(1.0, $length / ($i - $begin)));
                if ($logP < log(self::SILENT) && $ofAll < log(self::SILENT_OF_ALL)) {
                    $found[] = $this->gap($begin, $i, $ofAll, $each);
                }
            }
            [$begin, $sum] = [null, 0.0];
        }

        return $found;
    }

    /**
     * Stretches with too few events.
     *
     * @param list<Gap> $silences of the same, which are known
     *
     * @return list<Gap>
     */
    public function drops(array $silences): array
    {
        $length = count($this->hours);
        $y = [0];
        $e = [0.0];
        $taken = [];
        foreach ($this->hours as $i => $hour) {
            $y[] = $y[$i] + ($this->own[$hour] ?? 0);
            $e[] = $e[$i] + $this->expected[$hour];
            foreach ($silences as $gap) {
                if ($gap->holds($hour)) {
                    $taken[$i] = true;
                }
            }
        }
        $found = [];
        for ($times = 0; $times < self::MOST_DROPS; $times++) {
            [$from, $to] = $this->emptiest($taken, self::LITTLE_LESS, 0, $length);
            [$from, $to] = $from < $to ? $this->fitted($taken, ($y[$to] - $y[$from]) / max(1e-9, $e[$to] - $e[$from]), $from, $to) : [$from, $to];
            $best = $from < $to ? $this->score($y, $e, $from, $to) : 0.0;
            if ($best <= 0) {
                break;
            }
            $lasting = array_filter(array_keys($taken), static fn (int $i): bool => $i >= $from) === [] ? $this->score($y, $e, $from, $length) : 0.0;
            $to = $lasting > 0 && $lasting > $best - self::SIMPLER ? $length : $to;
            $taken += array_fill($from, $to - $from, true);
            $mean = $e[$to] - $e[$from];
            $ofAll = NegativeBinomial::logAtMost($y[$to] - $y[$from], $mean, $this->width($mean, $to - $from)) + log($this->keys * self::CHOICES * $length / max(1, $to - $from));
            if ($ofAll < log(self::DROP_OF_ALL)) {
                $found[] = $this->gap($from, $to, $ofAll, 1.0);
            }
        }

        return $found;
    }

    /**
     * How clear a drop is: deviance over dispersion; 0 where it is none.
     *
     * @param non-empty-list<int>   $y sums of events before each hour
     * @param non-empty-list<float> $e the same of what was expected
     */
    private function score(array $y, array $e, int $from, int $to): float
    {
        $is = $y[$to] - $y[$from];
        $mean = $e[$to] - $e[$from];

        return $to - $from < self::HOURS || $is >= self::DEEP * $mean || $mean - $is < self::LOST ? 0.0 : LikelihoodRatio::ofCount($is, $mean) / $this->width($mean, $to - $from);
    }

    /** Dispersion of a stretch: days that vary by themselves make long sums vary more, and the more days the less. */
    private function width(float $mean, int $hours): float
    {
        return $this->dispersion + $this->days ** 2 * $mean / max(1.0, $hours / 24);
    }

    /**
     * The stretch that lacks most of a little less than what was expected: the largest sum of a run (J. B. Kadane; J. Bentley,
     * "Programming Pearls", 1984), in one pass.
     *
     * @param array<int, true> $taken places that are known
     * @param float            $less  part of what was expected
     * @param int              $first place from which on, and up to which, is looked
     *
     * @return array{int, int}
     */
    private function emptiest(array $taken, float $less, int $first, int $end): array
    {
        $best = [$first, $first, 0.0];
        [$begin, $sum] = [$first, 0.0];
        for ($i = $first; $i < $end; $i++) {
            $hour = $this->hours[$i];
            $sum += isset($taken[$i]) ? -INF : $less * $this->expected[$hour] - ($this->own[$hour] ?? 0);
            if ($sum <= 0) {
                [$begin, $sum] = [$i + 1, 0.0];
            } elseif ($sum > $best[2]) {
                $best = [$begin, $i + 1, $sum];
            }
        }

        return [$best[0], $best[1]];
    }

    /**
     * The same by how deep it is: the likelihood ratio of a Poisson number with r times the mean against one with the mean grows by
     * each hour that has less than (1 - r) / -ln r of it. Quiet hours at its ends do not lengthen it then.
     *
     * @param array<int, true> $taken
     *
     * @return array{int, int}
     */
    private function fitted(array $taken, float $rate, int $from, int $to): array
    {
        $rate = max(0.02, min(0.8, $rate));

        return $this->emptiest($taken, (1 - $rate) / -log($rate), max(0, $from - self::AROUND), min(count($this->hours), $to + self::AROUND));
    }

    /** @param float $each events that one of these is worth */
    private function gap(int $from, int $to, float $logP, float $each): Gap
    {
        $observed = 0;
        $mean = 0.0;
        for ($i = $from; $i < $to; $i++) {
            $observed += $this->own[$this->hours[$i]] ?? 0;
            $mean += $this->expected[$this->hours[$i]];
        }
        $isLast = $this->hours[$to - 1] + 1 >= $this->end;
        $rate = $observed / max(1e-9, $mean);
        // The hours at both ends may be cut: what they lack tells from and to when.
        $since = 3_600_000 * $this->hours[$from];
        $until = 3_600_000 * ($this->hours[$to - 1] + 1);
        $part = fn (int $hour): float => $this->expected[$hour] > 5 ? max(0.0, min(1.0, (1 - ($this->own[$hour] ?? 0) / $this->expected[$hour]) / max(0.05, 1 - $rate))) : 0.0;
        $since -= $from > 0 && $part($this->hours[$from - 1]) > 0.2 ? (int) (3_600_000 * $part($this->hours[$from - 1])) : 0;
        $until += ! $isLast && $to < count($this->hours) && $part($this->hours[$to]) > 0.2 ? (int) (3_600_000 * $part($this->hours[$to])) : 0;

        return new Gap(
            $this->key,
            $from === 0 ? null : $since,
            $isLast ? null : $until,
            (int) round($observed * $each),
            $mean * $each,
            $logP,
            $each * LikelihoodRatio::ofCount($observed, $mean),
            $this->dispersion,
        );
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\VolumeSum;
use Pellix\Core\Statistics\NegativeBinomial;

/**
 * Stretches of time with too few events. Everything together is held against its own rhythm of the week; each part (an event, a
 * page, a host, a variant, a browser, two of them) against the rest of the traffic in the same hours, so that a quiet day is
 * no fault of anybody. What varies more than Poisson's counts is told by the dispersion, which is estimated.
 */
final class Gaps
{
    private const DIMENSIONS = ['event', 'page', 'host', 'browser', 'device', 'variant', 'event+page', 'event+host', 'event+browser', 'event+variant', 'browser+host', 'browser+device', 'browser+variant'];

    /** A part with fewer events tells nothing. */
    private const FEWEST = 150;
    private const FEWEST_HOURS = 24;
    private const MOST_KEYS = 400;

    /** No events for so long that it is as unlikely as that; and, with all stretches and parts that were looked at, as that. */
    private const SILENT = 1e-6;
    private const SILENT_OF_ALL = 0.005;

    /** A drop lasts for hours, is that deep, and loses so many events (common practice, no source); chance gives it as rarely as that. */
    private const DEEP = 0.7;
    private const HOURS = 2;
    private const LOST = 25;
    private const DROP_OF_ALL = 1e-4;

    /** Between what a drop has at most and what is expected. */
    private const LITTLE_LESS = 0.82;

    /** Beginnings and lengths that are about as good as each other, to each stretch of a length that lies apart from the others. */
    private const CHOICES = 50;

    /** How well a day's own hours tell the others (standard deviation over mean; common practice, no source). */
    private const WITHIN_A_DAY = 0.08;

    private const FIRST_DAY = 0.35;
    private const FIRST_DAYS = 0.65;
    private const DAYS_TO_RETURN = 6;

    /** Visits reach over the ends of hours, so that neighbours are alike (common practice, no source). */
    private const LEAST_DISPERSION = 1.4;

    /** First whole hour, and the one after the last. */
    private readonly int $from;
    private readonly int $to;

    private readonly ?Rhythm $rhythm;

    public function __construct(private readonly VolumeSum $volume, private readonly Setup $setup)
    {
        [$this->from, $this->to] = self::ends($volume);
        $this->rhythm = $volume->events === 0 ? null : Rhythm::of($volume->hours(), $this->from, $this->to);
    }

    /**
     * Whole hours, without a few stragglers long before or after all others.
     *
     * @return array{int, int}
     */
    private static function ends(VolumeSum $volume): array
    {
        $hours = $volume->hours();
        ksort($hours);
        // Hours that have next to nothing of what an hour in the middle has.
        $alive = array_keys(array_filter($hours, static fn (int $events): bool => $events >= 0.02 * Rhythm::median($hours)));
        $far = static fn (?int $hour, int $end): bool => $hour !== null && abs($hour - $end) > 24;
        [$first, $last] = [intdiv($volume->first, 3_600_000), intdiv($volume->last, 3_600_000)];

        return [$far($alive[0] ?? null, $first) ? $alive[0] : $first + 1, $far($alive[count($alive) - 1] ?? null, $last) ? $alive[count($alive) - 1] + 1 : $last];
    }

    public function isLongEnough(): bool
    {
        return $this->to - $this->from >= self::FEWEST_HOURS;
    }

    public function rhythm(): ?Rhythm
    {
        return $this->rhythm;
    }

    /** @return list<Gap> the clearest first; what describes the same less well lies within it */
    public function all(): array
    {
        if (! $this->isLongEnough()) {
            return [];
        }
        $found = $this->ofAll();
        $keys = $this->keys();
        foreach ($keys as $key) {
            array_push($found, ...$this->ofPart($key, count($keys)));
        }
        usort($found, static fn (Gap $a, Gap $b): int => $b->score <=> $a->score ?: strcmp($a->key, $b->key));
        /** @var list<non-empty-list<Gap>> $clusters */
        $clusters = [];
        foreach ($found as $gap) {
            foreach ($clusters as $i => [$lead]) {
                if ($lead->overlaps($gap)) {
                    $clusters[$i] = [...$clusters[$i], $gap];
                    continue 2;
                }
            }
            $clusters[] = [$gap];
        }

        return array_map(self::best(...), $clusters);
    }

    /**
     * Of descriptions that are about equally clear the one by fewer dimensions.
     *
     * @param non-empty-list<Gap> $cluster the clearest first
     */
    private static function best(array $cluster): Gap
    {
        $best = $cluster[0];
        foreach ($cluster as $gap) {
            if (count($gap->parts()) < count($best->parts()) && $gap->score > 0.93 * $cluster[0]->score) {
                $best = $gap;
            }
        }

        return $best->with(array_values(array_filter($cluster, static fn (Gap $gap): bool => $gap !== $best)));
    }

    /** @return list<string> */
    private function keys(): array
    {
        $sizes = [];
        foreach ($this->volume->keys() as $key) {
            $sum = $this->volume->total($key);
            if ($sum >= self::FEWEST && in_array(Keys::parts($key)[0], self::DIMENSIONS, true)) {
                $sizes[$key] = $sum;
            }
        }
        uksort($sizes, static fn (string|int $a, string|int $b): int => $sizes[$b] <=> $sizes[$a] ?: strcmp((string) $a, (string) $b));

        return array_map(strval(...), array_keys(array_slice($sizes, 0, self::MOST_KEYS, true)));
    }

    /** @return list<Gap> */
    private function ofAll(): array
    {
        if ($this->rhythm === null) {
            return [];
        }
        $expected = $thatDay = [];
        for ($hour = $this->from; $hour < $this->to; $hour++) {
            // In the first days of a log nobody returns yet.
            $early = $hour < $this->from + 24 ? self::FIRST_DAY : 1.0;
            $expected[$hour] = $this->rhythm->at($hour) * min($early, $hour < $this->from + 24 * self::DAYS_TO_RETURN ? self::FIRST_DAYS : 1.0);
            $thatDay[$hour] = $this->rhythm->thatDay($hour) * $early;
        }
        $visits = max(1.0, $this->rhythm->dispersion / $this->volume->clumping(''));

        return [
            ...$this->stretches('', $this->volume->hours(), $expected, $visits, $this->rhythm->days, 1),
            ...$this->stretches('', $this->volume->hours(), $thatDay, 1.3 * $visits, self::WITHIN_A_DAY, 1),
        ];
    }

    /** @return list<Gap> */
    private function ofPart(string $key, int $keys): array
    {
        $own = $this->volume->hours($key);
        [$rest, $from, $to] = $this->rest($key, $own);
        if ($to - $from < self::FEWEST_HOURS) {
            return [];
        }
        $byEpoch = str_contains(Keys::parts($key)[0], 'variant') || str_contains($key, 'exposure');

        $found = [];
        // Twice: what was found the first time does not count for what is expected the second time.
        for ($round = 0; $round < 2; $round++) {
            [$expected, $dispersion] = $this->expected($key, $own, $rest, $from, $to, $byEpoch, $found);
            $found = $this->stretches($key, $own, $expected, $dispersion, 0.0, $keys);
            if ($found === []) {
                break;
            }
        }

        return $found;
    }

    /**
     * What it is compared with: the other variants in the same hours, or all other events.
     *
     * @param array<int, int> $own
     *
     * @return array{array<int, int>, int, int} hour => events, first hour, and the one after the last
     */
    private function rest(string $key, array $own): array
    {
        [$dimension, $value] = Keys::parts($key);
        $rest = [];
        [$from, $to] = [$this->from, $this->to];
        if (str_contains($dimension, 'variant')) {
            $first = $dimension === 'variant' ? '' : strtok($value, '+').'+';
            foreach ($this->setup->variants as $variant) {
                foreach ($this->volume->hours(Keys::key($dimension, $first.$variant)) as $hour => $events) {
                    $rest[$hour] = ($rest[$hour] ?? 0) + $events;
                }
            }
        } else {
            $rest = $this->volume->hours();
        }
        if (str_contains($dimension, 'variant') || str_contains($key, 'exposure')) {
            $from = max($from, $this->setup->from === PHP_INT_MIN ? $from : intdiv($this->setup->from, 3_600_000) + 1);
            $to = min($to, $this->setup->to === PHP_INT_MAX ? $to : intdiv($this->setup->to, 3_600_000));
            // While it was paused nothing is to be expected.
            $rest = array_filter($rest, fn (int $hour): bool => $this->setup->isDuring(3_600_000 * $hour) && $this->setup->isDuring(3_600_000 * ($hour + 1)), ARRAY_FILTER_USE_KEY);
            $own = array_intersect_key($own, $rest);
        }
        foreach ($own as $hour => $events) {
            $rest[$hour] = max(0, ($rest[$hour] ?? 0) - $events);
        }
        // What had not begun yet is no gap.
        $hours = array_keys($own);
        $from = $hours === [] ? $to : max($from, min($hours));

        return [$rest, $from, $to];
    }

    /**
     * By the part that it makes of the rest, in each stretch of the day (and epoch).
     *
     * @param array<int, int> $own
     * @param array<int, int> $rest
     * @param list<Gap>       $without
     *
     * @return array{array<int, float>, float} hour => expected events, and the dispersion of visits
     */
    private function expected(string $key, array $own, array $rest, int $from, int $to, bool $byEpoch, array $without): array
    {
        $sums = [];
        $group = [];
        for ($hour = $from; $hour < $to; $hour++) {
            $epoch = $byEpoch ? $this->setup->epochAt(3_600_000 * $hour) : 0;
            $group[$hour] = $epoch * 8 + intdiv($hour % 24, 3);
            foreach ($without as $gap) {
                if (3_600_000 * $hour >= ($gap->since ?? 0) && 3_600_000 * $hour < ($gap->until ?? PHP_INT_MAX)) {
                    continue 2;
                }
            }
            foreach ([$group[$hour], -1 - $epoch] as $of) {
                $sums[$of] = [($sums[$of][0] ?? 0) + ($own[$hour] ?? 0), ($sums[$of][1] ?? 0) + ($rest[$hour] ?? 0)];
            }
        }
        $expected = [];
        for ($hour = $from; $hour < $to; $hour++) {
            [$a, $b] = $sums[$group[$hour]] ?? [0, 0];
            [$c, $d] = $sums[-1 - intdiv($group[$hour], 8)] ?? [0, 0];
            // Where a stretch of the day has few events, the whole day lends some.
            $odds = $d === 0 ? 0.0 : ($a + 50 * $c / max(1, $c + $d)) / max(1e-9, $b + 50 * $d / max(1, $c + $d));
            $expected[$hour] = ($rest[$hour] ?? 0) * $odds;
        }
        $squares = [];
        [$y, $e] = [0, 0.0];
        $clumping = $this->volume->clumping($key);
        // Given the rest, the variance of a part is its mean times (1 + odds).
        $odds = 1 + self::odds($own, $rest);
        foreach ($expected as $hour => $mean) {
            $y += $own[$hour] ?? 0;
            $e += $mean;
            if ($e >= 5 * $clumping) {
                $squares[] = ($y - $e) ** 2 / ($e * $odds * $clumping);
                [$y, $e] = [0, 0.0];
            }
        }

        return [$expected, $odds * max(self::LEAST_DISPERSION, Rhythm::median($squares) / 0.4549)];
    }

    /**
     * @param array<int, int> $own
     * @param array<int, int> $rest
     */
    private static function odds(array $own, array $rest): float
    {
        return min(5.0, array_sum($own) / max(1, array_sum($rest)));
    }

    /**
     * Silences first, then what is left of drops.
     *
     * @param array<int, int>   $own
     * @param array<int, float> $expected
     * @param float             $visits dispersion of visits: variance over mean
     * @param float             $days   how much days vary by themselves
     *
     * @return list<Gap>
     */
    private function stretches(string $key, array $own, array $expected, float $visits, float $days, int $keys): array
    {
        $dispersion = $visits * $this->volume->clumping($key);
        $each = $this->volume->each($key);
        $hours = array_keys($expected);
        $length = count($hours);
        $y = [0];
        $e = [0.0];
        foreach ($hours as $i => $hour) {
            $y[] = $y[$i] + ($own[$hour] ?? 0);
            $e[] = $e[$i] + $expected[$hour];
        }
        $found = [];
        $taken = [];
        $begin = null;
        for ($i = 0; $i <= $length; $i++) {
            $isSilent = $i < $length && ($own[$hours[$i]] ?? 0) === 0;
            $begin = $isSilent ? ($begin ?? $i) : $begin;
            if ($isSilent || $begin === null) {
                continue;
            }
            $mean = ($e[$i] - $e[$begin]) * max(0.4, 1 - 2 * $days);
            $logP = NegativeBinomial::logAtMost(0, $mean / $each, $visits);
            $ofAll = $logP + log($keys * max(1.0, $length / max(1, $i - $begin)));
            if ($logP < log(self::SILENT) && $ofAll < log(self::SILENT_OF_ALL)) {
                $found[] = $this->gap($key, $own, $expected, $hours, $begin, $i, $ofAll, $dispersion);
                $taken[] = [$begin, $i];
            }
            $begin = null;
        }
        $score = static function (int $from, int $to) use ($y, $e, $dispersion, $days): float {
            $is = $y[$to] - $y[$from];
            $mean = $e[$to] - $e[$from];
            if ($to - $from < self::HOURS || $is >= self::DEEP * $mean || $mean - $is < self::LOST) {
                return 0.0;
            }

            return 2 * (($is > 0 ? $is * log($is / $mean) : 0.0) - ($is - $mean)) / ($dispersion + $days * $days * $mean / max(1.0, ($to - $from) / 24));
        };
        for ($times = 0; $times < 3; $times++) {
            [$from, $to] = self::emptiest($hours, $own, $expected, $taken);
            $best = $from < $to ? $score($from, $to) : 0.0;
            if ($best <= 0) {
                break;
            }
            // One that lasts to the end is the simpler description, unless the end is clearly another.
            $isFree = array_filter($taken, static fn (array $one): bool => $one[1] > $from) === [];
            $lasting = $isFree ? $score($from, $length) : 0.0;
            $to = $lasting > 0 && $lasting > $best - 8 ? $length : $to;
            $mean = $e[$to] - $e[$from];
            $wide = $dispersion + $days * $days * $mean / max(1.0, ($to - $from) / 24);
            $ofAll = NegativeBinomial::logAtMost($y[$to] - $y[$from], $mean, $wide) + log($keys * self::CHOICES * $length / max(1, $to - $from));
            $taken[] = [$from, $to];
            if ($ofAll < log(self::DROP_OF_ALL)) {
                $found[] = $this->gap($key, $own, $expected, $hours, $from, $to, $ofAll, $dispersion);
            }
        }

        return $found;
    }

    /**
     * The stretch that lacks most of a little less than what was expected: the largest sum of a run (J. B. Kadane; J. Bentley,
     * "Programming Pearls", 1984), in one pass.
     *
     * @param list<int>               $hours
     * @param array<int, int>         $own
     * @param array<int, float>       $expected
     * @param list<array{int, int}>   $taken    stretches that are known
     *
     * @return array{int, int}
     */
    private static function emptiest(array $hours, array $own, array $expected, array $taken): array
    {
        $isTaken = [];
        foreach ($taken as [$from, $to]) {
            for ($i = $from; $i < $to; $i++) {
                $isTaken[$i] = true;
            }
        }
        $best = [0, 0, 0.0];
        [$begin, $sum] = [0, 0.0];
        foreach ($hours as $i => $hour) {
            $sum += isset($isTaken[$i]) ? -INF : self::LITTLE_LESS * $expected[$hour] - ($own[$hour] ?? 0);
            if ($sum <= 0) {
                [$begin, $sum] = [$i + 1, 0.0];
            } elseif ($sum > $best[2]) {
                $best = [$begin, $i + 1, $sum];
            }
        }

        return [$best[0], $best[1]];
    }

    /**
     * @param array<int, int>   $own
     * @param array<int, float> $expected
     * @param list<int>         $hours
     */
    private function gap(string $key, array $own, array $expected, array $hours, int $from, int $to, float $logP, float $dispersion): Gap
    {
        $observed = 0;
        $mean = 0.0;
        for ($i = $from; $i < $to; $i++) {
            $observed += $own[$hours[$i]] ?? 0;
            $mean += $expected[$hours[$i]];
        }
        $isLast = $hours[$to - 1] + 1 >= $this->to;
        $rate = $observed / max(1e-9, $mean);
        // The hours at both ends may be cut: what they lack tells from and to when.
        $since = 3_600_000 * $hours[$from];
        $until = 3_600_000 * ($hours[$to - 1] + 1);
        $part = static fn (int $hour): float => $expected[$hour] > 5 ? max(0.0, min(1.0, (1 - ($own[$hour] ?? 0) / $expected[$hour]) / max(0.05, 1 - $rate))) : 0.0;
        $since -= $from > 0 && $part($hours[$from - 1]) > 0.2 ? (int) (3_600_000 * $part($hours[$from - 1])) : 0;
        $until += ! $isLast && $to < count($hours) && $part($hours[$to]) > 0.2 ? (int) (3_600_000 * $part($hours[$to])) : 0;

        return new Gap(
            $key,
            $from === 0 ? null : $since,
            $isLast ? null : $until,
            $observed,
            $mean,
            $logP,
            2 * (($observed > 0 ? $observed * log($observed / $mean) : 0.0) - ($observed - $mean)),
            $dispersion,
        );
    }
}

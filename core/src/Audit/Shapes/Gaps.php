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

    /** So many days before and after the middle of the events are looked at. */
    private const MOST_DAYS = 300;

    /** No events for so long that it is as unlikely as that; and, with all stretches and parts that were looked at, as that. */
    private const SILENT = 1e-6;
    private const SILENT_OF_ALL = 0.002;

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

    private const NEAR = 3 * 3_600_000;

    /** Of variants that are larger by more the others tell too little. */
    private const SMALLER = 1.5;

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
        // Clocks that are off by years make no log of years.
        $so = 0;
        $middle = $first;
        foreach ($hours as $hour => $events) {
            $so += $events;
            if (2 * $so >= array_sum($hours)) {
                $middle = $hour;
                break;
            }
        }
        $near = static fn (int $hour): bool => abs($hour - $middle) < 24 * self::MOST_DAYS;
        $alive = array_values(array_filter($alive, $near));
        [$first, $last] = [$near($first) ? $first : ($alive[0] ?? $middle) - 1, $near($last) ? $last : ($alive[count($alive) - 1] ?? $middle) + 1];

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
        $visits = Rhythm::of($this->volume->visits(), $this->from, $this->to);
        if ($this->rhythm === null || $visits === null) {
            return [];
        }
        $found = [];
        $clumping = $this->volume->clumping('');
        // By the rhythm of the week; and by that of the day itself, which tells short gaps better.
        foreach ([[false, 1.0, $this->rhythm->days], [true, 1.3, self::WITHIN_A_DAY]] as [$isThatDay, $wider, $days]) {
            $at = fn (Rhythm $rhythm): array => $this->early(static fn (int $hour): float => $isThatDay ? $rhythm->thatDay($hour) : $rhythm->at($hour), ! $isThatDay);
            array_push($found, ...$this->silences('', $this->volume->visits(), $at($visits), max(self::LEAST_DISPERSION, $wider * $visits->dispersion), $days, 1));
            array_push($found, ...$this->drops('', $this->volume->hours(), $at($this->rhythm), $wider * max($clumping, $this->rhythm->dispersion), $days, 1, $found));
        }

        return array_values(array_filter($found, fn (Gap $gap): bool => ! $this->isDeclared($gap)));
    }

    /** Whether it begins with an epoch: then it is what was declared that changed the traffic. */
    private function isDeclared(Gap $gap): bool
    {
        foreach (array_slice($this->setup->epochs, 1) as $from) {
            if (! $gap->isSilence() && $gap->since !== null && abs($gap->since - $from) <= self::NEAR) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param callable(int): float $expected hour => events
     *
     * @return array<int, float> the same, less at the beginning of the log, when nobody returns yet
     */
    private function early(callable $expected, bool $isLong): array
    {
        $found = [];
        for ($hour = $this->from; $hour < $this->to; $hour++) {
            $found[$hour] = $expected($hour) * ($hour < $this->from + 24 ? self::FIRST_DAY : ($isLong && $hour < $this->from + 24 * self::DAYS_TO_RETURN ? self::FIRST_DAYS : 1.0));
        }

        return $found;
    }

    /** @return list<Gap> */
    private function ofPart(string $key, int $keys): array
    {
        $found = [];
        // Twice: what was found the first time does not count for what is expected the second time.
        for ($round = 0; $round < 2; $round++) {
            $before = $found;
            $found = [];
            foreach ([true, false] as $isVisits) {
                $own = $isVisits ? $this->volume->visits($key) : $this->volume->hours($key);
                [$rest, $from, $to] = $this->rest($key, $own, $isVisits);
                if ($to - $from < self::FEWEST_HOURS) {
                    return [];
                }
                $clumping = $isVisits ? 1.0 : $this->volume->clumping($key);
                [$expected, $dispersion] = $this->expected($own, $rest, $from, $to, $before, $clumping);
                $isVisits
                    ? array_push($found, ...$this->silences($key, $own, $expected, $dispersion, 0.0, $keys))
                    : array_push($found, ...$this->drops($key, $own, $expected, $dispersion * $clumping, 0.0, $keys, $found));
            }
            if ($found === []) {
                break;
            }
        }

        return $found;
    }

    private static function hangsOnEpochs(string $key): bool
    {
        return str_contains(Keys::parts($key)[0], 'variant') || str_contains($key, 'exposure');
    }

    /**
     * What it is compared with: the other variants in the same hours, where these are not much smaller, or all other events.
     *
     * @param array<int, int> $own
     *
     * @return array{array<int, int>, int, int} hour => events (or visits), first hour, and the one after the last
     */
    private function rest(string $key, array $own, bool $isVisits): array
    {
        [$dimension, $value] = Keys::parts($key);
        $of = fn (string $one): array => $isVisits ? $this->volume->visits($one) : $this->volume->hours($one);
        $rest = [];
        [$from, $to] = [$this->from, $this->to];
        if (str_contains($dimension, 'variant')) {
            $first = $dimension === 'variant' ? '' : strtok($value, '+').'+';
            foreach ($this->setup->variants as $variant) {
                foreach ($first.$variant === $value ? [] : $of(Keys::key($dimension, $first.$variant)) as $hour => $number) {
                    $rest[$hour] = ($rest[$hour] ?? 0) + $number;
                }
            }
        }
        if (! str_contains($dimension, 'variant') || array_sum($own) > self::SMALLER * array_sum($rest)) {
            // Who sends several kinds of events is a visitor of each; who has one browser is of no other.
            $rest = $of('');
            if (! $isVisits || in_array($dimension, ['browser', 'device', 'browser+device'], true)) {
                foreach ($own as $hour => $number) {
                    $rest[$hour] = max(0, ($rest[$hour] ?? 0) - $number);
                }
            }
        }
        if (self::hangsOnEpochs($key)) {
            $from = max($from, $this->setup->from === PHP_INT_MIN ? $from : intdiv($this->setup->from, 3_600_000) + 1);
            $to = min($to, $this->setup->to === PHP_INT_MAX ? $to : intdiv($this->setup->to, 3_600_000));
            // While it was paused nothing is to be expected.
            $rest = array_filter($rest, fn (int $hour): bool => $this->setup->isDuring(3_600_000 * $hour) && $this->setup->isDuring(3_600_000 * ($hour + 1)), ARRAY_FILTER_USE_KEY);
        }
        // What had not begun yet is no gap.
        $hours = array_keys($own);

        return [$rest, $hours === [] ? $to : max($from, min($hours)), $to];
    }

    /**
     * By the part that it makes of the rest, in each stretch of the day and in each epoch: a change of share, weights or rules that was
     * declared is no gap.
     *
     * @param array<int, int> $own
     * @param array<int, int> $rest
     * @param list<Gap>       $without
     *
     * @return array{array<int, float>, float} hour => expected events, and the dispersion of visits
     */
    private function expected(array $own, array $rest, int $from, int $to, array $without, float $clumping): array
    {
        $sums = [];
        $group = [];
        for ($hour = $from; $hour < $to; $hour++) {
            $epoch = $this->setup->epochAt(3_600_000 * $hour);
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
     * Stretches without any visit.
     *
     * @param array<int, int>   $own        hour => visits
     * @param array<int, float> $expected
     * @param float             $dispersion variance over mean
     * @param float             $days       how much days vary by themselves
     *
     * @return list<Gap>
     */
    private function silences(string $key, array $own, array $expected, float $dispersion, float $days, int $keys): array
    {
        $hours = array_keys($expected);
        $length = count($hours);
        $each = $this->volume->each($key);
        $found = [];
        $begin = null;
        $sum = 0.0;
        for ($i = 0; $i <= $length; $i++) {
            if ($i < $length && ($own[$hours[$i]] ?? 0) === 0) {
                $begin ??= $i;
                $sum += $expected[$hours[$i]];
                continue;
            }
            if ($begin !== null) {
                $logP = NegativeBinomial::logAtMost(0, $sum * max(0.4, 1 - 2 * $days), $dispersion);
                $ofAll = $logP + log($keys * max(1.0, $length / ($i - $begin)));
                if ($logP < log(self::SILENT) && $ofAll < log(self::SILENT_OF_ALL)) {
                    $found[] = $this->gap($key, $own, $expected, $hours, $begin, $i, $ofAll, $dispersion, $each);
                }
            }
            [$begin, $sum] = [null, 0.0];
        }

        return $found;
    }

    /**
     * Stretches with too few events.
     *
     * @param array<int, int>   $own        hour => events
     * @param array<int, float> $expected
     * @param float             $dispersion variance over mean
     * @param float             $days       how much days vary by themselves
     * @param list<Gap>         $silences   of it, which are known
     *
     * @return list<Gap>
     */
    private function drops(string $key, array $own, array $expected, float $dispersion, float $days, int $keys, array $silences): array
    {
        $hours = array_keys($expected);
        $length = count($hours);
        $y = [0];
        $e = [0.0];
        $taken = [];
        foreach ($hours as $i => $hour) {
            $y[] = $y[$i] + ($own[$hour] ?? 0);
            $e[] = $e[$i] + $expected[$hour];
            foreach ($silences as $gap) {
                if (3_600_000 * $hour >= ($gap->since ?? 0) && 3_600_000 * $hour < ($gap->until ?? PHP_INT_MAX)) {
                    $taken[] = [$i, $i + 1];
                }
            }
        }
        $found = [];
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
                $found[] = $this->gap($key, $own, $expected, $hours, $from, $to, $ofAll, $dispersion, 1.0);
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
     * @param float             $each     events that one of these is worth
     */
    private function gap(string $key, array $own, array $expected, array $hours, int $from, int $to, float $logP, float $dispersion, float $each): Gap
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
            (int) round($observed * $each),
            $mean * $each,
            $logP,
            $each * 2 * (($observed > 0 ? $observed * log($observed / $mean) : 0.0) - ($observed - $mean)),
            $dispersion,
        );
    }
}

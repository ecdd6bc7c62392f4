<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\VolumeSum;

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

    /** How well a day's own hours tell the others (standard deviation over mean; common practice, no source). */
    private const WITHIN_A_DAY = 0.08;
    private const WIDER = 1.3;

    /** What the first day, and the first days, have of what those have on which people return, too (common practice, no source). */
    private const FIRST_DAY = 0.35;
    private const FIRST_DAYS = 0.65;
    private const DAYS_TO_RETURN = 6;

    /** So near to its begin a drop is that of an epoch, in milliseconds. */
    private const NEAR = 3 * 3_600_000;

    /** First whole hour, and the one after the last. */
    private readonly int $from;
    private readonly int $to;

    private readonly ?Rhythm $rhythm;

    /** @var list<Gap>|null */
    private ?array $found = null;

    public function __construct(private readonly VolumeSum $volume, private readonly Setup $setup)
    {
        [$this->from, $this->to] = self::ends($volume);
        $this->rhythm = $volume->events === 0 ? null : Rhythm::of($volume->hours(), $this->from, $this->to);
    }

    /**
     * Whole hours, without a few stragglers long before or after all others: clocks that are off by years make no log of years.
     *
     * @return array{int, int} the first, and the one after the last
     */
    private static function ends(VolumeSum $volume): array
    {
        $hours = $volume->hours();
        ksort($hours);
        [$so, $half, $middle] = [0, array_sum($hours) / 2, 0];
        foreach ($hours as $hour => $events) {
            $so += $events;
            if ($so >= $half) {
                $middle = $hour;
                break;
            }
        }
        // Days that have more than next to nothing of what a day in the middle has.
        $days = [];
        foreach ($hours as $hour => $events) {
            $days[intdiv($hour, 24)] = ($days[intdiv($hour, 24)] ?? 0) + $events;
        }
        $least = 0.02 * Rhythm::median($days);
        $alive = array_keys(array_filter($days, static fn (int $events, int $day): bool => $events >= $least && abs(24 * $day - $middle) < 24 * self::MOST_DAYS, ARRAY_FILTER_USE_BOTH));
        if ($alive === []) {
            return [0, 0];
        }
        [$first, $last] = [intdiv($volume->first, 3_600_000), intdiv($volume->last, 3_600_000)];
        $within = array_keys(array_filter($hours, static fn (int $hour): bool => $hour >= 24 * $alive[0] && $hour < 24 * ($alive[count($alive) - 1] + 1), ARRAY_FILTER_USE_KEY));
        [$begin, $end] = [$within[0], $within[count($within) - 1]];

        // The first and the last hour of a log are cut.
        return [$begin - $first > 24 ? $begin : $first + 1, $last - $end > 24 ? $end + 1 : $last];
    }

    public function isLongEnough(): bool
    {
        return $this->to - $this->from >= self::FEWEST_HOURS;
    }

    public function rhythm(): ?Rhythm
    {
        return $this->rhythm;
    }

    /** @return list<Gap> the clearest first; what describes the same less well lies within it. Worked out once */
    public function all(): array
    {
        return $this->found ??= $this->find();
    }

    /** @return list<Gap> */
    private function find(): array
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
        $events = max($this->volume->clumping(''), $this->rhythm->dispersion);
        // By the rhythm of the week; and by that of the day itself, which tells short gaps better.
        foreach ([[false, 1.0, $this->rhythm->days], [true, self::WIDER, self::WITHIN_A_DAY]] as [$isThatDay, $wider, $days]) {
            $silent = new Stretches('', $this->volume->visits(), $this->early($visits, $isThatDay), max(Expectation::LEAST_DISPERSION, $wider * $visits->dispersion), $days, 1, $this->to);
            $low = new Stretches('', $this->volume->hours(), $this->early($this->rhythm, $isThatDay), $wider * $events, $days, 1, $this->to);
            $silences = $silent->silences($this->volume->each(''));
            array_push($found, ...$silences, ...$low->drops([...$found, ...$silences]));
        }

        return array_values(array_filter($found, fn (Gap $gap): bool => ! $this->isDeclared($gap)));
    }

    /** Whether a drop begins with an epoch: then it is what was declared that changed the traffic. */
    private function isDeclared(Gap $gap): bool
    {
        foreach (array_slice($this->setup->epochs, 1) as $from) {
            if (! $gap->isSilence() && $gap->since !== null && abs($gap->since - $from) <= self::NEAR) {
                return true;
            }
        }

        return false;
    }

    /** @return array<int, float> hour => what is expected, less at the beginning of the log, when nobody returns yet */
    private function early(Rhythm $rhythm, bool $isThatDay): array
    {
        $found = [];
        for ($hour = $this->from; $hour < $this->to; $hour++) {
            $part = match (true) {
                $hour < $this->from + 24 => self::FIRST_DAY,
                // How busy a day was tells that already.
                ! $isThatDay && $hour < $this->from + 24 * self::DAYS_TO_RETURN => self::FIRST_DAYS,
                default => 1.0,
            };
            $found[$hour] = $part * ($isThatDay ? $rhythm->thatDay($hour) : $rhythm->at($hour));
        }

        return $found;
    }

    /** @return list<Gap> */
    private function ofPart(string $key, int $keys): array
    {
        $found = [];
        // Twice: what was found the first time does not count for what is expected the second time.
        for ($round = 0; $round < 2; $round++) {
            $visits = Expectation::of($this->volume, $this->setup, $key, $this->from, $this->to, true, $found);
            if ($visits->hours() < self::FEWEST_HOURS) {
                return [];
            }
            $events = Expectation::of($this->volume, $this->setup, $key, $this->from, $this->to, false, $found);
            $silences = (new Stretches($key, $visits->own, $visits->expected, $visits->dispersion, 0.0, $keys, $this->to))->silences($this->volume->each($key));
            $low = new Stretches($key, $events->own, $events->expected, $events->dispersion * $this->volume->clumping($key), 0.0, $keys, $this->to);
            $found = [...$silences, ...$low->drops($silences)];
            if ($found === []) {
                break;
            }
        }

        return $found;
    }
}

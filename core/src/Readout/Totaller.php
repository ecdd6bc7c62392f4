<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Sessions;

/** Works out what a unit comes to, from what it did: the one place that says what counts in a readout. */
final readonly class Totaller
{
    private const DIMENSIONS = ['device', 'browser', 'source', 'country', 'page', 'visitor'];

    private const LONGEST_VALUE = 60;

    /** A value beyond that says nothing: it would drown all others. */
    private const LARGEST_VALUE = 1e9;

    private LocalDay $day;

    /** Milliseconds before the first exposure that are looked at; null for none. */
    private ?int $earlier;

    /**
     * @param int $until the last moment that counts, in milliseconds since 1970
     */
    public function __construct(public Subject $subject, \DateTimeZone $zone, private int $sessionMinutes, private int $until)
    {
        $this->day = new LocalDay($zone);
        $days = $subject->experiment->decision->earlierDays;
        $this->earlier = $days === null ? null : 86_400_000 * $days;
    }

    /**
     * Of a unit that counts for a variant.
     *
     * @param int                                 $at       position of the first exposure
     * @param array<string, string>               $segments dimension => value; others than those of a readout are left out
     * @param non-empty-list<int>                 $times    of all its events, in milliseconds, in order
     * @param list<int>                           $views    positions of its page views
     * @param array<int, array{string, float}>    $attention position of an event that tells of attention => page view that it is about, seconds so far
     */
    public function unit(int $variant, int $epoch, int $at, array $segments, array $times, array $views, array $attention): UnitTotals
    {
        [$begin, $sessions, $length, $entryEnd] = $this->sessions($times, $at);
        $day = $this->day->of($times[$at]);
        $items = [];
        $pages = $entryPages = 0;
        foreach ($views as $i) {
            if ($i >= $begin && $times[$i] <= $this->until) {
                $pages++;
                $entryPages += $i <= $entryEnd ? 1 : 0;
            }
        }
        $engaged = [];
        foreach ($attention as $i => [$view, $seconds]) {
            if ($i >= $at && $times[$i] <= $this->until && $seconds >= 0 && $seconds <= 86_400) {
                $engaged[$view] = max($engaged[$view] ?? 0.0, $seconds);
            }
        }
        $measured = [Visit::Bounced->value => $entryPages === 1 ? 1.0 : 0.0, Visit::Engaged->value => array_sum($engaged), Visit::Pages->value => (float) $pages, Visit::Length->value => $length];
        foreach ($measured as $key => $value) {
            if ($value > 0) {
                $items[$key] = ['steps' => [[$day, 1, (float) $value]], 'earlier' => 0.0];
            }
        }

        return new UnitTotals($variant, $epoch, $day, self::keys($segments), $sessions, $items);
    }

    /**
     * The same with what it did for a goal.
     *
     * @param int                                              $first first exposure, in milliseconds
     * @param list<array{0: int, 1: float|null, 2: string|null, 3: string, ...}> $hits time, value, its currency and session of each, in the order of time; of an order the first alone
     */
    public function goal(UnitTotals $unit, Item $item, int $first, array $hits): UnitTotals
    {
        $goal = $item->goal;
        if ($goal === null) {
            return $unit;
        }
        $steps = $sessions = [];
        $before = $isCounted = false;
        $earlier = 0.0;
        foreach ($hits as [$time, $value, $currency, $session]) {
            $worth = $item->measure === Measure::Mean ? self::worth($goal, $value, $currency) : 1.0;
            if ($time < $first) {
                if ($this->earlier !== null && $time >= $first - $this->earlier) {
                    $earlier = $item->measure === Measure::Mean ? min($item->cap ?? INF, $earlier + $worth) : 1.0;
                }
                continue;
            }
            $counts = match ($goal->count) {
                'visitor' => ! $isCounted,
                'session' => ! isset($sessions[$session]),
                default => true,
            };
            if ($time <= $this->until && $counts) {
                $isCounted = true;
                $sessions[$session] = true;
                $steps[] = [$this->day->of($time), 1, $worth];
            }
        }

        return $steps === [] && $earlier === 0.0 ? $unit
            : new UnitTotals($unit->variant, $unit->epoch, $unit->day, $unit->segments, $unit->sessions, [...$unit->items, $item->key => ['steps' => self::byDay($steps), 'earlier' => $earlier]]);
    }

    private static function worth(Goal $goal, ?float $value, ?string $currency): float
    {
        $isForeign = $goal->currency !== null && $currency !== null && $currency !== $goal->currency;

        return $value === null || $isForeign || abs($value) > self::LARGEST_VALUE ? 0.0 : $value;
    }

    /**
     * What lies on one day together: so a unit takes no more room than it has days.
     *
     * @param list<array{int, int, float}> $steps
     *
     * @return list<array{int, int, float}>
     */
    private static function byDay(array $steps): array
    {
        $days = [];
        foreach ($steps as [$day, $hits, $value]) {
            $days[$day] = [$day, ($days[$day][1] ?? 0) + $hits, ($days[$day][2] ?? 0.0) + $value];
        }

        return array_values($days);
    }

    /**
     * @param non-empty-list<int> $times
     *
     * @return array{int, int, float, int} position where the session of the first exposure begins; sessions from it on; seconds from
     *                                     the first to the last event of each, together; position of the last event of the first
     */
    private function sessions(array $times, int $at): array
    {
        $begin = $at;
        while ($begin > 0 && ! Sessions::isOver(($times[$begin] - $times[$begin - 1]) / 1000, $this->sessionMinutes)) {
            $begin--;
        }
        $sessions = 1;
        $ms = 0;
        $end = null;
        for ($i = $begin + 1, $n = count($times); $i < $n && $times[$i] <= $this->until; $i++) {
            if (Sessions::isOver(($times[$i] - $times[$i - 1]) / 1000, $this->sessionMinutes)) {
                $sessions++;
                $end ??= $i - 1;
            } else {
                $ms += $times[$i] - $times[$i - 1];
            }
        }

        return [$begin, $sessions, $ms / 1000, $end ?? $i - 1];
    }

    /**
     * @param array<string, string> $segments
     *
     * @return list<string>
     */
    private static function keys(array $segments): array
    {
        $keys = [];
        foreach ($segments as $dimension => $value) {
            if ($value !== '') {
                $keys[] = Keys::key((string) $dimension, mb_strcut($value, 0, self::LONGEST_VALUE, 'UTF-8'));
            }
        }

        return $keys;
    }

    /**
     * Own properties of an exposure that visitors are told apart by.
     *
     * @param array<string, mixed> $props
     *
     * @return array<string, string>
     */
    public function properties(array $props): array
    {
        $own = [];
        foreach ($this->subject->experiment->decision->properties as $name) {
            $value = $props[$name] ?? null;
            if (is_string($value) || is_int($value) || is_float($value) || is_bool($value)) {
                $own["props.{$name}"] = is_bool($value) ? ($value ? 'true' : 'false') : (string) $value;
            }
        }

        return $own;
    }

    /** Whether a readout tells visitors apart by it. */
    public static function isDimension(string $dimension): bool
    {
        return in_array($dimension, self::DIMENSIONS, true);
    }
}

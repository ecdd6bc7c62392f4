<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Hits;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogEvent;

/** How one goal was reached. */
final class GoalSum extends CohortSums
{
    /** Whoever reaches it within so many milliseconds of the first exposure counts for the course of its rate: those exposed last had no more time. */
    public const SOON = 6 * 3_600_000;

    /** The same hit again within so many milliseconds is one hit that was counted twice (common practice, no source). */
    private const AGAIN = 10_000;

    /** Exposed to one variant alone, and reached it at or after the first exposure. */
    public Cohorts $reached;

    /** The same, soon. */
    public Cohorts $soon;

    /** Hits during the run, of anybody; of them those that came again; that have no value; that lie before the first exposure. */
    public Cohorts $hits;
    public Cohorts $again;
    public Cohorts $worthless;
    public Cohorts $early;

    public function __construct(private readonly int $place)
    {
        parent::__construct();
    }

    protected static function names(): array
    {
        return ['reached', 'soon', 'hits', 'again', 'worthless', 'early'];
    }

    public function add(Unit $unit, Setup $setup): void
    {
        if ($unit->hits === []) {
            return;
        }
        $goal = $setup->goals[$this->place];
        $hits = Hits::of($goal, $this->place, $unit);
        if ($hits === []) {
            return;
        }
        $variant = $unit->counted();
        $first = $unit->exposedAt === null ? null : $unit->times[$unit->exposedAt];
        $last = null;
        $reached = $soon = false;
        $early = null;
        foreach ($hits as $i) {
            $time = $unit->times[$i];
            if (! $unit->isDuring($time)) {
                continue;
            }
            $keys = $unit->keysOf($i);
            $hour = intdiv($time, 3_600_000);
            $epoch = $setup->epochAt($time);
            $this->hits->add($keys, $epoch, $hour, $unit->variant);
            if ($last !== null && $unit->whats[$last]->page === $unit->whats[$i]->page && ($time - $unit->times[$last] <= self::AGAIN || self::isReload($unit, $last, $i, $setup))) {
                $this->again->add($keys, $epoch, $hour, $unit->variant);
            }
            $last = $i;
            if ($goal->valueProp !== null) {
                self::value($unit->props($i), $goal->valueProp) === null && $this->worthless->add($keys, $epoch, $hour, $unit->variant);
            }
            if ($first !== null && $time >= $first) {
                $reached = true;
                $soon = $soon || $time - $first <= self::SOON;
            } elseif ($first !== null && $unit->viewedAt !== null && $unit->due !== null && $time >= $unit->times[$unit->viewedAt] && $early === null) {
                $early = $i;
            }
        }
        if ($variant === null || $first === null) {
            return;
        }
        $hour = intdiv($first, 3_600_000);
        if ($early !== null && ! $this->isClockOff($unit, $early)) {
            $this->early->add($unit->keys, $unit->epoch, $hour, $variant);
        }
        if ($reached) {
            $this->reached->add([''], $unit->epoch, $hour, $variant);
        }
        $soon && $this->soon->add($unit->keys, $unit->epoch, $hour, $variant);
    }

    /** Whether the exposure was received before the hit that it seems to follow: then its clock is wrong, and nothing came late. */
    private function isClockOff(Unit $unit, int $hit): bool
    {
        [$exposed, $early] = [$unit->rows[(int) $unit->exposedAt], $unit->rows[$hit]];

        return Row::delay($exposed) !== null && Row::delay($early) !== null && Row::received($exposed) < Row::received($early);
    }

    /**
     * A number, or a text that reads like one.
     *
     * @param array<string, mixed> $props
     */
    private static function value(array $props, string $path): ?float
    {
        return (new LogEvent('-', '-', new \DateTimeImmutable('@0'), '-', '', $props))->number($path);
    }

    /** Whether the page was loaded again, and nothing else happened between. */
    private static function isReload(Unit $unit, int $before, int $now, Setup $setup): bool
    {
        return $unit->whats[$now]->name === 'page_view' && $now === $before + 1 && $unit->times[$now] - $unit->times[$before] < 60_000 * $setup->settings->sessionMinutes;
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->join($other, $sign);
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Unit;

/** What each exclusion leaves out; what several leave out counts for each of them. */
final class ExclusionSum
{
    /** @var array<int, int> place of the exclusion => units that are left out whole */
    public array $units = [];

    /** @var array<int, int> place of the exclusion => events, copies too */
    public array $events = [];

    /** @var array<int, array<int, int>> place of the exclusion => place of the variant => units that would count for it */
    public array $exposed = [];

    /** Units, and events, that are left out by any: each once. */
    public int $allUnits = 0;
    public int $allEvents = 0;

    /** @param list<int> $places of the exclusions that leave it out */
    public function unit(Unit $unit, array $places): void
    {
        $events = count($unit->rows) + count($unit->copies);
        $variant = $unit->counted();
        $this->allUnits++;
        $this->allEvents += $events;
        foreach ($places as $place) {
            $this->units[$place] = ($this->units[$place] ?? 0) + 1;
            $this->events[$place] = ($this->events[$place] ?? 0) + $events;
            if ($variant !== null) {
                $this->exposed[$place][$variant] = ($this->exposed[$place][$variant] ?? 0) + 1;
            }
        }
    }

    /**
     * @param array<int, int> $events place of the exclusion => events that it leaves out of one unit
     * @param int             $all    of these, each once
     */
    public function events(array $events, int $all): void
    {
        $this->allEvents += $all;
        foreach ($events as $place => $n) {
            $this->events[$place] = ($this->events[$place] ?? 0) + $n;
        }
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->allUnits += $sign * $other->allUnits;
        $this->allEvents += $sign * $other->allEvents;
        $this->units = Counts::sum($this->units, $other->units, $sign);
        $this->events = Counts::sum($this->events, $other->events, $sign);
        $this->exposed = Counts::sum($this->exposed, $other->exposed, $sign);
    }

    /** @return list<int> units that an exclusion leaves out, by the place of their variant */
    public function byVariant(int $place, int $variants): array
    {
        return array_map(fn (int $variant): int => $this->exposed[$place][$variant] ?? 0, range(0, $variants - 1));
    }
}

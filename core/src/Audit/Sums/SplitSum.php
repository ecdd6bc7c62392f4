<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;

/** How units split over the variants, at each stage of their way. */
final class SplitSum extends CohortSums
{
    private const FEW = 5;

    /** Of units that were to get a variant, by the one that the assignment gives them; when they first saw a page of the experiment. */
    public Cohorts $due;

    /** Of those, who were never exposed. */
    public Cohorts $missing;

    /** Exposed to one variant alone, by the hour of the first exposure. */
    public Cohorts $exposed;

    /** The same without programs. */
    public Cohorts $persons;

    /** The same who saw another page afterwards; did two more things; reached a page where the primary goal can happen (where that is not the goal itself). */
    public Cohorts $moved;
    public Cohorts $active;
    public Cohorts $near;

    /** Exposed without a view of the page that they were exposed on. */
    public Cohorts $pageless;

    public int $programs = 0;
    public int $internal = 0;

    protected static function names(): array
    {
        return ['due', 'missing', 'exposed', 'persons', 'moved', 'active', 'near', 'pageless'];
    }

    public function add(Unit $unit, Setup $setup): void
    {
        if ($unit->due !== null && $unit->viewedAt !== null) {
            $place = (int) array_search($unit->due, $setup->variants, true);
            $time = $unit->times[$unit->viewedAt];
            $epoch = $setup->epochAt($time);
            $this->due->add(self::few($unit), $epoch, intdiv($time, 3_600_000), $place);
            if ($unit->exposures === [] && ! $unit->isCrawler && ! $unit->isInhuman) {
                $this->missing->add($unit->keys, $epoch, intdiv($time, 3_600_000), $place);
            }
        }
        $variant = $unit->counted();
        $at = $unit->exposedAt;
        if ($variant === null || $at === null) {
            return;
        }
        $hour = intdiv($unit->times[$at], 3_600_000);
        $this->exposed->add($unit->keys, $unit->epoch, $hour, $variant);
        if ($unit->isCrawler || $unit->isInhuman) {
            $this->programs++;
        } else {
            $this->persons->add([''], $unit->epoch, $hour, $variant);
        }
        $this->internal += $unit->isInternal ? 1 : 0;
        $this->after($unit, $at, $hour, $variant, $setup);
    }

    private function after(Unit $unit, int $at, int $hour, int $variant, Setup $setup): void
    {
        $page = $unit->whats[$at]->page;
        $time = $unit->times[$at];
        $idle = 60_000 * $setup->settings->sessionMinutes;
        $moved = $near = $isViewed = false;
        $did = 0;
        foreach ($unit->whats as $i => $what) {
            $isView = $what->name === 'page_view';
            if ($isView && ! $isViewed && $what->page === $page && abs($unit->times[$i] - $time) < $idle) {
                $isViewed = true;
            }
            if ($unit->times[$i] > $time && ! Unit::isOwn($what->name)) {
                $did++;
                $moved = $moved || $isView;
                $near = $near || ($isView && $what->has(Row::GOAL_PAGE));
            }
        }
        $few = $moved || $did > 1 || $near ? self::few($unit) : [];
        $moved && $this->moved->add($few, $unit->epoch, $hour, $variant);
        $did > 1 && $this->active->add($few, $unit->epoch, $hour, $variant);
        $near && $this->near->add($few, $unit->epoch, $hour, $variant);
        if (! $isViewed) {
            $this->pageless->add($unit->keys, $unit->epoch, $hour, $variant);
        }
    }

    /**
     * Everybody, device, browser, source and country: of the stages that is told, and no more, since each costs time for each unit.
     *
     * @return list<string>
     */
    private static function few(Unit $unit): array
    {
        return array_slice($unit->keys, 0, self::FEW);
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->join($other, $sign);
        $this->programs += $sign * $other->programs;
        $this->internal += $sign * $other->internal;
    }
}

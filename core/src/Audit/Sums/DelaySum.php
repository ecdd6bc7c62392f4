<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;

/** How long events were on their way, and visitors whose clock is off. */
final class DelaySum
{
    /** An event is late that took longer (common practice, no source). */
    public const LATE = 600_000;

    /** A clock is off that differs by more: messages take some seconds, and clocks drift by as many (common practice, no source). */
    public const OFF = 60_000;

    /** Bins of the histogram in each tenfold of milliseconds. */
    public const BINS = 10;

    public int $known = 0;
    public Cohorts $late;

    /** Events with a time of receipt, by what they are. */
    public Cohorts $all;

    /** Units with a clock that is off, and all whose clock can be told. */
    public Cohorts $off;
    public Cohorts $clocks;

    /** @var array<int, int> bin of the logarithm of the delay (-1 for under a millisecond) => events */
    public array $histogram = [];

    /** @var array<int, int> minutes that a clock is off (ahead is positive) => units */
    public array $offsets = [];

    public function __construct()
    {
        foreach (['late', 'all', 'off', 'clocks'] as $name) {
            $this->{$name} = new Cohorts();
        }
    }

    public function add(Unit $unit, Setup $setup): void
    {
        $delays = $late = [];
        foreach ($unit->rows as $i => $row) {
            if ($row[2] === '') {
                continue;
            }
            $delay = (int) $row[2];
            $delays[$i] = $delay;
            $bin = $delay < 1 ? -1 : (int) floor(log10($delay) * self::BINS);
            $this->histogram[$bin] = ($this->histogram[$bin] ?? 0) + 1;
            if ($delay > self::LATE) {
                $late[] = $i;
            }
        }
        if ($delays === []) {
            return;
        }
        $this->known += count($delays);
        $hour = intdiv($unit->times[(int) array_key_first($delays)], 3_600_000);
        $epoch = $setup->epochAt($unit->times[0]);
        $offset = self::offset($delays, $unit->times);
        $keys = Keys::of($unit->context === '' ? $unit->rows[0][6] : $unit->context, Row::text($unit->rows[0][5]), $unit->isReturning);
        $this->clocks->add($keys, $epoch, $hour, $unit->variant);
        if ($offset !== null) {
            $this->off->add($keys, $epoch, $hour, $unit->variant);
            $minutes = (int) round(max(-100_000_000, min(100_000_000, $offset / 60_000)));
            if (isset($this->offsets[$minutes]) || count($this->offsets) < 5000) {
                $this->offsets[$minutes] = ($this->offsets[$minutes] ?? 0) + 1;
            }
        }
        foreach ($delays as $i => $delay) {
            $row = $unit->rows[$i];
            $of = ['', Keys::key('event', Row::text($row[4])), Keys::key('page', Row::text($row[5])), ...array_slice($keys, 1, 2)];
            $at = intdiv($unit->times[$i], 3_600_000);
            $this->all->add($of, $epoch, $at, $unit->variant);
            if ($offset === null && $delay > self::LATE) {
                $this->late->add($of, $epoch, $at, $unit->variant);
            }
        }
    }

    /**
     * How far a clock is ahead, in milliseconds: where events seem to be received before they happened, or all of them, however
     * far apart, took equally long, which what was queued and sent later at once did not.
     *
     * @param non-empty-array<int, int> $delays
     * @param list<int>                 $times
     */
    private static function offset(array $delays, array $times): ?int
    {
        $least = min($delays);
        if ($least < -self::OFF) {
            return -$least;
        }
        if (count($delays) < 3 || $least < self::LATE) {
            return null;
        }
        $spread = $times[(int) array_key_last($delays)] - $times[(int) array_key_first($delays)];

        return $spread > 30_000 && max($delays) - $least < min(20_000, $spread / 2) ? -$least : null;
    }

    public function plus(self $other): void
    {
        foreach (['late', 'all', 'off', 'clocks'] as $name) {
            $this->{$name}->plus($other->{$name});
        }
        foreach (['histogram', 'offsets'] as $name) {
            foreach ($other->{$name} as $bin => $number) {
                $this->{$name}[$bin] = ($this->{$name}[$bin] ?? 0) + $number;
            }
        }
        $this->known += $other->known;
    }

    public function prune(): void
    {
        foreach (['late', 'all', 'off', 'clocks'] as $name) {
            $this->{$name}->prune();
        }
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;

/** How long events were on their way, and visitors whose clock is off. */
final class DelaySum extends CohortSums
{
    /** An event is late that took longer (common practice, no source). */
    public const LATE = 600_000;

    /** A clock is off that differs by more: messages take some seconds, and clocks drift by as many (common practice, no source). */
    public const OFF = 60_000;

    /** Everybody, and what their machine and they have in common: a clock hangs on no page. */
    private const KEYS = 6;

    /** Events with a time of receipt; and those that were late, by what they are. */
    public int $known = 0;
    public Cohorts $late;

    /** Units with a clock that is off, and all whose clock can be told. */
    public Cohorts $off;
    public Cohorts $clocks;

    /** @var array<int, int> ten times the digits of the delay in milliseconds, and the first of them => events */
    public array $histogram = [];

    /** @var array<int, int> minutes that a clock is off (ahead is positive) => units */
    public array $offsets = [];

    protected static function names(): array
    {
        return ['late', 'off', 'clocks'];
    }

    public function add(Unit $unit, Setup $setup): void
    {
        $known = 0;
        $isOdd = false;
        foreach ($unit->rows as $row) {
            $cell = $row[Row::DELAY];
            if ($cell === '') {
                continue;
            }
            $known++;
            // By the number of its digits and the first of them, which is quicker than a logarithm.
            $bin = $cell[0] === '-' ? 0 : 10 * (ord($cell[0]) - 64) + (int) $cell[1];
            if (isset($this->histogram[$bin])) {
                $this->histogram[$bin]++;
            } else {
                $this->histogram[$bin] = 1;
            }
            // Nearly all take less than a hundred seconds, and then nothing is late and no clock is off.
            $isOdd = $isOdd || isset($cell[6]) || $cell[0] === '-';
        }
        if ($known === 0) {
            return;
        }
        $this->known += $known;
        $delays = $isOdd ? self::delays($unit) : [];
        $offset = $delays === [] ? null : self::offset($delays, $unit->times);
        $hour = intdiv($unit->times[0], 3_600_000);
        $epoch = $setup->epochAt($unit->times[0]);
        $keys = array_slice($unit->keys, 0, self::KEYS);
        $this->clocks->add($keys, $epoch, $hour, $unit->variant);
        if ($offset !== null) {
            $this->off->add($keys, $epoch, $hour, $unit->variant);
            $minutes = (int) round(max(-100_000_000, min(100_000_000, $offset / 60_000)));
            if (isset($this->offsets[$minutes]) || count($this->offsets) < 5000) {
                $this->offsets[$minutes] = ($this->offsets[$minutes] ?? 0) + 1;
            }

            return;
        }
        foreach ($delays as $i => $delay) {
            if ($delay > self::LATE) {
                $this->late->add($unit->keysOf($i), $epoch, intdiv($unit->times[$i], 3_600_000), $unit->variant);
            }
        }
    }

    /** @return array<int, int> position of an event => milliseconds */
    private static function delays(Unit $unit): array
    {
        $delays = [];
        foreach ($unit->rows as $i => $row) {
            if ($row[Row::DELAY] !== '') {
                $delays[$i] = (int) substr($row[Row::DELAY], 1);
            }
        }

        return $delays;
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

    /** Seconds within which a part of the events was received, to the first digit. */
    public function quantile(float $q): float
    {
        $so = 0;
        foreach ($this->bins() as $seconds => $number) {
            $so += $number;
            if ($so >= $q * $this->known) {
                return (float) $seconds;
            }
        }

        return 0.0;
    }

    /** @return array<array-key, int> seconds up to which, to the first digit => events */
    public function bins(): array
    {
        $bins = [];
        foreach ($this->histogram as $bin => $number) {
            // A minus takes a place, too, and has no first digit.
            $delay = $bin % 10 === 0 ? 0.0 : ($bin % 10 + 1) * 10 ** (intdiv($bin, 10) - 1) / 1000;
            $bins[(string) $delay] = ($bins[(string) $delay] ?? 0) + $number;
        }
        ksort($bins, SORT_NUMERIC);

        return $bins;
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->join($other, $sign);
        $this->histogram = Counts::sum($this->histogram, $other->histogram, $sign);
        $this->offsets = Counts::sum($this->offsets, $other->offsets, $sign);
        $this->known += $sign * $other->known;
    }
}

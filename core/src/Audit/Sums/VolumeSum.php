<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Reading\What;
use Pellix\Core\Audit\Setup;

/** How many events arrived in each hour, of each kind; those of programs left out, who come in bursts. */
final class VolumeSum
{
    private const MOST_KEYS = 1200;

    /** As well where there are more numbers than that, in a log of years. */
    private const MOST_CELLS = 700_000;

    /** A visitor who sends anything in an hour counts by itself: in the upper half of the number, above that of the events. */
    private const VISIT = 1 << 32;

    private const MOST_REMEMBERED = 20_000;
    private const MOST_WAITING = 50_000;
    private const LEAST_BAR = 8;

    /** @var array<string, int> key => place of its series */
    private array $places = [];

    /** @var array<int, array<int, int>> place => hour since 1970 => events, and visitors (see `VISIT`); under -1 all events, under -2 the squares of how many each visitor sent in an hour */
    private array $series = [];

    private int $next = 0;

    /** First and last event, in milliseconds. */
    public int $first = PHP_INT_MAX;
    public int $last = PHP_INT_MIN;

    public int $events = 0;

    /** @var array<string, list<int>> event on a page => places of the series that it counts for */
    private array $ofPage = [];

    /** @var array<string, list<int>> event on a host => the same, for pages that are let go of */
    private array $ofHost = [];

    /** Once pages were let go of, one needs so many events to be counted by itself: most of the others would be let go of again. */
    private int $bar = 1;

    /** @var array<string, int> page that is not counted by itself => events since pages were let go of */
    private array $waiting = [];

    /** @var array<array-key, array<string, array<string, list<int>>>> variant => machine => event on a host => places of the series that it counts for besides */
    private array $ofMachine = [];
    private int $remembered = 0;

    /** @var array<array-key, array<string, list<int>>> variant => machine => places of the series that all its events count for */
    private array $shared = [];

    public function add(Unit $unit, Setup $setup): void
    {
        $n = count($unit->rows);
        $this->events += $n;
        $this->first = min($this->first, $unit->times[0]);
        $this->last = max($this->last, $unit->times[$n - 1]);
        if ($unit->isCrawler || $unit->isInhuman) {
            return;
        }
        $exposedAt = $unit->exposedAt === null ? PHP_INT_MAX : $unit->times[$unit->exposedAt];
        $variant = $unit->counted() === null ? '' : $setup->variants[$unit->variant];
        $own = $unit->exposures === [] ? [] : array_flip($unit->exposures);
        // They lie in the order of time, so those of an hour lie together, and nearly always all of one machine.
        $numbers = $shared = [];
        $run = 0;
        $hour = $of = $machine = null;
        foreach ($unit->whats as $i => $what) {
            // Other experiments come and go as they like, and what the runtime tells of its doings with them.
            if (Unit::isOwn($what->name) && ! isset($own[$i])) {
                continue;
            }
            $time = $unit->times[$i];
            $now = intdiv($time, 3_600_000);
            $state = $time >= $exposedAt ? $variant : '';
            if ($now !== $hour || $state !== $of || $what->machine !== $machine) {
                foreach ($shared as $place) {
                    $numbers[$place] = ($numbers[$place] ?? 0) + $run;
                }
                if ($now !== $hour && $hour !== null) {
                    $this->count($numbers, $hour);
                    $numbers = [];
                }
                [$hour, $of, $machine, $run] = [$now, $state, $what->machine, 0];
                $shared = $this->shared[$of][$machine] ?? $this->sharedOf($machine, $of);
            }
            $run++;
            foreach ($this->ofPage[$what->event] ?? $this->ofPage($what) as $place) {
                $numbers[$place] = ($numbers[$place] ?? 0) + 1;
            }
            foreach ($this->ofMachine[$of][$machine][$what->spot] ?? $this->ofMachine($what, $of) as $place) {
                $numbers[$place] = ($numbers[$place] ?? 0) + 1;
            }
        }
        if ($hour !== null) {
            foreach ($shared as $place) {
                $numbers[$place] = ($numbers[$place] ?? 0) + $run;
            }
            $this->count($numbers, $hour);
        }
    }

    /** @param array<int, int> $numbers place of a series => events that one visitor sent in the hour */
    private function count(array $numbers, int $hour): void
    {
        foreach ($numbers as $place => $number) {
            $series = &$this->series[$place];
            if (isset($series[$hour])) {
                $series[$hour] += self::VISIT + $number;
            } else {
                $series[$hour] = self::VISIT + $number;
            }
            $series[-1] += $number;
            $series[-2] += $number * $number;
        }
    }

    /** @return list<int> places of the series that an event on a page counts for, whoever sends it */
    private function ofPage(What $what): array
    {
        $page = Row::text($what->page);
        if ($this->bar > 1 && ! isset($this->places[Keys::key('page', $page)])) {
            $this->waiting[$what->page] = ($this->waiting[$what->page] ?? 0) + 1;
            if ($this->waiting[$what->page] < $this->bar) {
                return $this->ofHost[$what->spot] ?? $this->ofHost($what);
            }
        }
        $this->remember();
        $event = Row::text($what->name);

        return $this->ofPage[$what->event] = [...$this->ofHost[$what->spot] ?? $this->ofHost($what), $this->place(Keys::key('page', $page)), $this->place(Keys::key('event+page', "{$event}+{$page}"))];
    }

    /** @return list<int> the same without the page */
    private function ofHost(What $what): array
    {
        $this->remember();
        $event = Row::text($what->name);

        return $this->ofHost[$what->spot] = array_map($this->place(...), [Keys::key('event', $event), Keys::key('host', $what->host), Keys::key('event+host', "{$event}+{$what->host}")]);
    }

    /** @return list<int> places of those that an event counts for by who sends it */
    private function ofMachine(What $what, string $variant): array
    {
        $this->remember();
        $event = Row::text($what->name);
        $browser = Row::text($what->parts[1]);
        $keys = $variant === '' ? [] : [Keys::key('event+variant', "{$event}+{$variant}")];
        if ($browser !== '') {
            array_push($keys, Keys::key('event+browser', "{$event}+{$browser}"), Keys::key('browser+host', "{$browser}+{$what->host}"));
        }

        return $this->ofMachine[$variant][$what->machine][$what->spot] = array_map($this->place(...), $keys);
    }

    /** @return list<int> places of those that all events of a machine count for */
    private function sharedOf(string $machine, string $variant): array
    {
        $this->remember();
        [$device, $browser] = array_map(Row::text(...), explode(Row::PART, $machine) + ['', '']);
        $keys = [''];
        $variant === '' || $keys[] = Keys::key('variant', $variant);
        $device === '' || $keys[] = Keys::key('device', $device);
        if ($browser !== '') {
            $keys[] = Keys::key('browser', $browser);
            $device === '' || $keys[] = Keys::key('browser+device', "{$browser}+{$device}");
            $variant === '' || $keys[] = Keys::key('browser+variant', "{$browser}+{$variant}");
        }

        return $this->shared[$variant][$machine] = array_map($this->place(...), $keys);
    }

    /** Makes room for one more. */
    private function remember(): void
    {
        if (++$this->remembered > self::MOST_REMEMBERED) {
            $this->ofPage = $this->ofHost = $this->ofMachine = $this->shared = [];
            $this->remembered = 1;
        }
    }

    private function place(string $key): int
    {
        if (! isset($this->places[$key])) {
            $this->places[$key] = $this->next;
            $this->series[$this->next] = [-1 => 0, -2 => 0];
            $this->next++;
        }

        return $this->places[$key];
    }

    /** @return list<string> */
    public function keys(): array
    {
        return array_map(strval(...), array_keys($this->places));
    }

    public function has(string $key): bool
    {
        return isset($this->places[$key]);
    }

    /** How many events one visitor sends in an hour, on average. */
    public function each(string $key): float
    {
        return $this->total($key) / max(1, array_sum($this->visits($key)));
    }

    /**
     * How much more the numbers of events vary than those of independent ones, since each visitor sends several: of a compound
     * Poisson number variance over mean is E k² / E k (W. Feller, "An Introduction to Probability Theory", volume 1, 3rd edition 1968, XII.2).
     */
    public function clumping(string $key): float
    {
        return max(1.0, ($this->series[$this->places[$key] ?? -1][-2] ?? 1) / max(1, $this->total($key)));
    }

    /** @return array<int, int> hour since 1970 => events */
    public function hours(string $key = ''): array
    {
        $hours = $this->series[$this->places[$key] ?? -1] ?? [];
        unset($hours[-1], $hours[-2]);

        return array_map(static fn (int $number): int => $number & (self::VISIT - 1), $hours);
    }

    /** @return array<int, int> hour since 1970 => visitors who sent any */
    public function visits(string $key = ''): array
    {
        $hours = $this->series[$this->places[$key] ?? -1] ?? [];
        unset($hours[-1], $hours[-2]);

        return array_map(static fn (int $number): int => $number >> 32, $hours);
    }

    public function total(string $key = ''): int
    {
        return $this->series[$this->places[$key] ?? -1][-1] ?? 0;
    }

    /**
     * First and last event stay where others are taken away: whoever is taken away comes back, with more.
     *
     * @param int $sign see `Counts`
     */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        foreach ($other->places as $key => $from) {
            $key = (string) $key;
            if ($sign === Counts::PLUS) {
                $place = $this->place($key);
                $this->series[$place] = Counts::sum($this->series[$place], $other->series[$from], $sign);
            } elseif (isset($this->places[$key])) {
                $this->takeAway($key, $other->series[$from]);
            }
        }
        $this->first = min($this->first, $other->first);
        $this->last = max($this->last, $other->last);
        $this->events += $sign * $other->events;
    }

    /** @param array<int, int> $numbers as in `$series` */
    private function takeAway(string $key, array $numbers): void
    {
        $series = &$this->series[$this->places[$key]];
        foreach ($numbers as $hour => $number) {
            $left = ($series[$hour] ?? 0) - $number;
            if ($hour >= 0 && ($left <= 0 || ($series[$hour] & self::VISIT - 1) < ($number & self::VISIT - 1))) {
                // Of what was let go of for a while less may be known than is taken away.
                unset($series[$hour]);
            } else {
                $series[$hour] = max(0, $left);
            }
        }
        if ($series[-1] === 0) {
            unset($series, $this->series[$this->places[$key]], $this->places[$key]);
            $this->ofPage = $this->ofHost = $this->ofMachine = $this->shared = [];
        }
    }

    /** To be called between the parts of a log. */
    public function prune(): void
    {
        $cells = array_map(fn (int $place): int => count($this->series[$place]), $this->places);
        $gone = Rarest::of($cells, $this->total(...), self::MOST_KEYS, self::MOST_CELLS);
        foreach ($gone as $key) {
            unset($this->series[$this->places[$key]], $this->places[$key]);
        }
        if ($gone !== []) {
            $this->ofPage = $this->ofHost = $this->ofMachine = $this->shared = $this->waiting = [];
            $this->remembered = 0;
            $this->bar = max(self::LEAST_BAR, 2 * $this->bar);
        } elseif (count($this->waiting) > self::MOST_WAITING) {
            $this->waiting = [];
        }
    }
}

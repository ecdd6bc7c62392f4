<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;

/** How many events arrived in each hour, of each kind; those of programs left out, who come in bursts. */
final class VolumeSum
{
    private const MOST_KEYS = 1200;
    private const KEPT_KEYS = 700;
    private const MOST_REMEMBERED = 20_000;

    /** @var array<string, array<int, int>> key => hour since 1970 => events */
    public array $of = [];

    /** First and last event, in milliseconds. */
    public int $first = PHP_INT_MAX;
    public int $last = PHP_INT_MIN;

    public int $events = 0;

    /** @var array<string, list<string>> what an event is => keys that it counts for */
    private array $targets = [];

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
        $cells = [];
        foreach ($unit->rows as $i => $row) {
            $cell = intdiv($unit->times[$i], 3_600_000)."\n{$row[4]}\n{$row[5]}\n{$row[6]}\n".($unit->times[$i] >= $exposedAt ? $variant : '');
            $cells[$cell] = ($cells[$cell] ?? 0) + 1;
        }
        foreach ($cells as $cell => $number) {
            [$hour, $what] = explode("\n", $cell, 2);
            $hour = (int) $hour;
            foreach ($this->targets[$what] ?? $this->target($what) as $key) {
                if (isset($this->of[$key][$hour])) {
                    $this->of[$key][$hour] += $number;
                } else {
                    $this->of[$key][$hour] = $number;
                }
            }
        }
    }

    /** @return list<string> */
    private function target(string $what): array
    {
        if (count($this->targets) >= self::MOST_REMEMBERED) {
            $this->targets = [];
        }
        [$event, $page, $context, $variant] = explode("\n", $what);
        [$device, $browser] = explode(Row::PART, $context) + ['', ''];
        $page = Row::text($page);
        $event = Row::text($event);
        $host = strtok($page, '/') ?: $page;
        $keys = ['', Keys::key('event', $event), Keys::key('page', $page), Keys::key('host', $host)];
        foreach (['device' => $device, 'browser' => $browser, 'variant' => $variant] as $dimension => $value) {
            if ($value !== '') {
                $value = Row::text($value);
                $keys[] = Keys::key($dimension, $value);
                $keys[] = Keys::key("event+{$dimension}", "{$event}+{$value}");
            }
        }
        $keys[] = Keys::key('event+page', "{$event}+{$page}");
        $keys[] = Keys::key('event+host', "{$event}+{$host}");
        if ($browser !== '') {
            $keys[] = Keys::key('browser+host', "{$browser}+{$host}");
            $device === '' || $keys[] = Keys::key('browser+device', "{$browser}+{$device}");
            $variant === '' || $keys[] = Keys::key('browser+variant', "{$browser}+{$variant}");
        }
        $device === '' || $variant === '' || $keys[] = Keys::key('device+variant', "{$device}+{$variant}");

        return $this->targets[$what] = $keys;
    }

    /** @return array<int, int> hour => events */
    public function hours(string $key = ''): array
    {
        return $this->of[$key] ?? [];
    }

    public function total(string $key = ''): int
    {
        return array_sum($this->of[$key] ?? []);
    }

    public function plus(self $other): void
    {
        foreach ($other->of as $key => $hours) {
            $key = (string) $key;
            foreach ($hours as $hour => $number) {
                $this->of[$key][$hour] = ($this->of[$key][$hour] ?? 0) + $number;
            }
        }
        $this->first = min($this->first, $other->first);
        $this->last = max($this->last, $other->last);
        $this->events += $other->events;
    }

    /** To be called between the parts of a log. */
    public function prune(): void
    {
        $this->targets = [];
        if (count($this->of) <= self::MOST_KEYS) {
            return;
        }
        $sizes = array_map(array_sum(...), $this->of);
        unset($sizes['']);
        uksort($sizes, static fn (string|int $a, string|int $b): int => $sizes[$b] <=> $sizes[$a] ?: strcmp((string) $a, (string) $b));
        foreach (array_slice(array_keys($sizes), self::KEPT_KEYS) as $key) {
            unset($this->of[$key]);
        }
    }
}

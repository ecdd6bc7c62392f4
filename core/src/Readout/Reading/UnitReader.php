<?php

declare(strict_types=1);

namespace Pellix\Core\Readout\Reading;

use Pellix\Core\Audit\Reading\Hits;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Subject;
use Pellix\Core\Readout\Totaller;
use Pellix\Core\Readout\UnitTotals;

/** Works out what a unit comes to, as an audit sees it: of a log and of stored events alike. */
final class UnitReader
{
    /** @var array<string, array<string, string>> key of `Keys` => dimension => value, as far as a readout looks at it */
    private static array $dimensions = [];

    /**
     * @param array<int, Item> $goals place of the goal in the set-up => item
     * @param list<Item>       $items all that the totals may have
     */
    private function __construct(private readonly Setup $setup, private readonly Totaller $totaller, private readonly array $goals, public readonly array $items)
    {
    }

    /** @param array<int, string>|null $keys place of a goal in the set-up => what its item is called; null for the goals' own keys */
    public static function of(Setup $setup, Subject $subject, ?array $keys = null): self
    {
        $totaller = new Totaller($subject, $setup->settings->zone, $setup->settings->sessionMinutes, min($setup->to, $setup->until ?? PHP_INT_MAX));
        $goals = [];
        foreach ($setup->goals as $place => $goal) {
            foreach ($subject->items as $item) {
                if ($item->goal?->key === $goal->key) {
                    $goals[$place] = $keys === null ? $item : $item->called($keys[$place], $goal);
                }
            }
        }

        return new self($setup, $totaller, $goals, [...array_values($goals), ...array_values(array_filter($subject->items, static fn (Item $item): bool => $item->visit !== null))]);
    }

    /** Null of a unit that counts for no variant. */
    public function read(Unit $unit): ?UnitRead
    {
        $variant = $unit->counted();
        if ($variant === null || $unit->exposedAt === null) {
            return null;
        }
        $views = $attention = [];
        foreach ($unit->whats as $i => $what) {
            if ($what->name === 'page_view') {
                $views[] = $i;
            } elseif ($what->name === 'engaged' && $i >= $unit->exposedAt) {
                $props = $unit->props($i);
                $attention[$i] = [is_string($props['view'] ?? null) ? "#{$props['view']}" : "@{$i}", is_int($props['seconds'] ?? null) || is_float($props['seconds'] ?? null) ? (float) $props['seconds'] : -1.0];
            }
        }
        $first = $unit->times[$unit->exposedAt];
        /** @var non-empty-list<int> $times it has an exposure */
        $times = $unit->times;
        $totals = $this->totaller->unit($variant, $unit->epoch, $unit->exposedAt, [...self::segments($unit), ...$this->totaller->properties($unit->props($unit->exposedAt))], $times, $views, $attention);
        $waiting = $this->orders($unit);
        foreach ($unit->hits === [] ? [] : array_diff_key($this->goals, $waiting) as $place => $item) {
            $totals = $this->totaller->goal($totals, $item, $first, $this->hits($unit, $place));
        }

        return new UnitRead($totals, $first, $waiting);
    }

    /**
     * The same with goals that orders reached.
     *
     * @param array<int, list<Hit>> $hits place of the goal => hits, of an order the first alone
     */
    public function with(UnitTotals $totals, int $first, array $hits): UnitTotals
    {
        foreach ($hits as $place => $own) {
            $totals = $this->totaller->goal($totals, $this->goals[$place], $first, self::plain($own));
        }

        return $totals;
    }

    /** @return array<int, list<Hit>> place of the goal => hits, some of which are orders */
    public function orders(Unit $unit): array
    {
        $waiting = [];
        foreach ($unit->orders === [] || $unit->hits === [] ? [] : array_keys($this->goals) as $place) {
            $hits = $this->hits($unit, $place);
            if (array_filter($hits, static fn (array $hit): bool => $hit[4] !== null) !== []) {
                $waiting[$place] = array_map(static fn (array $hit): Hit => new Hit($unit->id, self::moment((int) $hit[3]), self::moment($hit[0]), '', [$hit[5]], $hit[1], $hit[2], $hit[4]), $hits);
            }
        }

        return $waiting;
    }

    /**
     * Hits as numbers, since most need nothing else.
     *
     * @return list<array{int, float|null, string|null, string, string|null, string}> time, value, its currency, begin of the session, number of the order, hash of the event's id
     */
    private function hits(Unit $unit, int $place): array
    {
        $goal = $this->setup->goals[$place];
        $hits = [];
        foreach (Hits::of($goal, $place, $unit) as $i) {
            $time = $unit->times[$i];
            if ($unit->exposedAt !== null && $time >= $unit->times[$unit->exposedAt] && ! $unit->isDuring($time)) {
                continue;
            }
            $isOrder = $unit->whats[$i]->name === 'order';
            $event = $isOrder || $goal->valueProp !== null ? new LogEvent('-', '-', self::moment(0), '-', '', $unit->props($i)) : null;
            $currency = $goal->fixed !== null ? $goal->currency : ($event?->text('currency') ?? $goal->currency);
            $order = $isOrder ? $event?->text('order_id') : null;
            $hits[] = [
                $time, $goal->fixed ?? ($goal->valueProp === null ? null : $event?->number($goal->valueProp)), $currency === null ? null : strtoupper($currency),
                (string) $this->session($unit, $i), $order === '' ? null : $order, $unit->rows[$i][Row::ID],
            ];
        }

        return $hits;
    }

    /** When the session of an event began, in milliseconds. */
    private function session(Unit $unit, int $i): int
    {
        while ($i > 0 && $unit->times[$i] - $unit->times[$i - 1] < 60_000 * $this->setup->settings->sessionMinutes) {
            $i--;
        }

        return $unit->times[$i];
    }

    private static function moment(int $ms): \DateTimeImmutable
    {
        $seconds = (int) floor($ms / 1000);

        return new \DateTimeImmutable(sprintf('@%d.%03d', $seconds, $ms - 1000 * $seconds));
    }

    /**
     * @param list<Hit> $hits
     *
     * @return list<array{int, float|null, string|null, string}>
     */
    private static function plain(array $hits): array
    {
        return array_map(static fn (Hit $hit): array => [1000 * $hit->time->getTimestamp() + (int) $hit->time->format('v'), $hit->value, $hit->currency, $hit->session->format('U.v')], $hits);
    }

    /** @return array<string, string> */
    private static function segments(Unit $unit): array
    {
        if (count(self::$dimensions) > 20_000) {
            self::$dimensions = [];
        }
        $segments = [];
        foreach ($unit->keys as $key) {
            if (! isset(self::$dimensions[$key])) {
                [$dimension, $value] = Keys::parts($key);
                self::$dimensions[$key] = Totaller::isDimension($dimension) ? [$dimension => $value] : [];
            }
            $segments += self::$dimensions[$key];
        }

        return $segments;
    }
}

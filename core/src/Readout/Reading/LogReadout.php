<?php

declare(strict_types=1);

namespace Pellix\Core\Readout\Reading;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Reading\Companion;
use Pellix\Core\Audit\Reading\Hits;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Counting\OrderSpool;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Bits;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Subject;
use Pellix\Core\Readout\Table;
use Pellix\Core\Readout\Totaller;
use Pellix\Core\Readout\UnitTotals;

/** Reads a log of any length once, for its audit and its readout together. An order counts for whoever told of it first. */
final class LogReadout implements Companion
{
    private readonly Table $table;

    /** @var array<string, array<string, string>> key of `Keys` => dimension => value, as far as a readout looks at it */
    private static array $dimensions = [];

    /** @param array<int, Item> $goals place of the goal in the set-up => item */
    private function __construct(private readonly Setup $setup, private readonly Totaller $totaller, private readonly array $goals, private readonly OrderSpool $orders)
    {
        $this->table = new Table($totaller->subject->items);
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   one or two, in order: line number => what the line holds, or an `InvalidLog`
     * @param callable(int): mixed                 $progress is told now and then how many lines were read, about
     *
     * @return array{Evidence, Table}
     */
    public static function of(array $pieces, Setup $setup, Subject $subject, callable $progress): array
    {
        $totaller = new Totaller($subject, $setup->settings->zone, $setup->settings->sessionMinutes, min($setup->to, $setup->until ?? PHP_INT_MAX));
        $goals = [];
        foreach ($setup->goals as $place => $goal) {
            foreach ($subject->items as $item) {
                if ($item->goal?->key === $goal->key) {
                    $goals[$place] = $item;
                }
            }
        }
        $orders = [new OrderSpool(), new OrderSpool()];
        $companions = array_map(static fn (OrderSpool $own): self => new self($setup, $totaller, $goals, $own), $orders);
        [$evidence, $results] = LogAudit::beside($pieces, $setup, $progress, $companions);
        $table = new Table($subject->items);
        foreach ($results as $half => [$own, $hits]) {
            $table->plus($own);
            $orders[$half]->has($hits);
        }
        $isMuch = array_sum(array_column($results, 1)) > 10_000;
        [$later, $more] = TwoAtOnce::run(static fn (int $half): array => OrderSpool::later($orders, $half), $isMuch);
        foreach (TwoAtOnce::run(static fn (int $half): Table => (new self($setup, $totaller, $goals, $orders[$half]))->settled($later[$half]->or($more[$half])), $isMuch) as $own) {
            $table->plus($own);
        }
        $table->prune();

        return [$evidence, $table];
    }

    public function unit(Unit $unit): void
    {
        $variant = $unit->counted();
        if ($variant === null || $unit->exposedAt === null) {
            return;
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
        $waiting = [];
        foreach ($unit->hits === [] ? [] : $this->goals as $place => $item) {
            $hits = $this->hits($unit, $place);
            if (array_filter($hits, static fn (Hit $hit): bool => $hit->order !== null) !== []) {
                // Somebody else may have told of the order, and earlier.
                $waiting[$place] = $hits;
            } elseif ($hits !== []) {
                $totals = $this->totaller->goal($totals, $item, $first, self::plain($hits));
            }
        }
        $waiting === [] ? $this->table->add($totals) : $this->orders->put($waiting, [$first, $totals->toArray()]);
    }

    /** @return list<Hit> */
    private function hits(Unit $unit, int $place): array
    {
        $goal = $this->setup->goals[$place];
        $hits = [];
        foreach (Hits::of($goal, $place, $unit) as $i) {
            $time = $unit->times[$i];
            if ($time >= $unit->times[(int) $unit->exposedAt] && ! $unit->isDuring($time)) {
                continue;
            }
            $props = $goal->valueProp !== null || $unit->whats[$i]->name === 'order' ? $unit->props($i) : [];
            $event = new LogEvent('-', '-', new \DateTimeImmutable('@0'), '-', '', $props);
            $order = $unit->whats[$i]->name === 'order' ? $event->text('order_id') : null;
            $value = $goal->fixed ?? ($goal->valueProp === null ? null : $event->number($goal->valueProp));
            $currency = $goal->fixed !== null ? $goal->currency : ($event->text('currency') ?? $goal->currency);
            $hits[] = new Hit($unit->id, self::moment($this->session($unit, $i)), self::moment($time), '', [$unit->rows[$i][2]], $value, $currency === null ? null : strtoupper($currency), $order === '' ? null : $order);
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

    public function prune(): void
    {
        $this->table->prune();
    }

    /** @return array{Table, int} the second: hits that wait for others' orders */
    public function result(): array
    {
        return [$this->table, $this->orders->flush()];
    }

    /**
     * Of the units that have waited.
     *
     * @param Bits $later hits that do not count
     */
    private function settled(Bits $later): Table
    {
        foreach ($this->orders->once($later) as [$hits, $about]) {
            /** @var array{int, array<mixed>} $about */
            [$first, $kept] = $about;
            $totals = UnitTotals::from($kept);
            foreach ($hits as $place => $own) {
                $totals = $this->totaller->goal($totals, $this->goals[$place], $first, self::plain($own));
            }
            $this->table->add($totals);
        }

        return $this->table;
    }
}

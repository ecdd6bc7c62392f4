<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Audit\Reading\Cells;
use Pellix\Core\Audit\Reading\Hits;
use Pellix\Core\Audit\Reading\LogUnits;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Skipped;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Formats\Spool;

/**
 * What Pellix's own events say of the same: who was there in each half hour, so that the visitors of a day can be counted wherever
 * days are taken to begin, and every order.
 */
final class Ours
{
    private const WORTH_TWO_EVENTS = 50_000;

    /** By what other sources may count the visitors of a day. */
    public Presence $seen;
    public Presence $exposed;
    public Presence $first;

    /** Of a goal: its hits, and who reached it. */
    public Presence $hits;
    public Presence $reached;

    /** First and last moment of the log, in milliseconds. */
    public int $from = PHP_INT_MAX;
    public int $to = PHP_INT_MIN;

    /** @var array<int, int> hour since 1970 => events */
    public array $hours = [];

    public int $lines = 0;
    public Skipped $skipped;

    /** @param list<Spool> $orders that the halves have put aside */
    private function __construct(private readonly Setup $setup, public array $orders, private readonly ?int $goal)
    {
        $this->hits = new Presence();
        $this->reached = new Presence();
        $this->seen = new Presence();
        $this->exposed = new Presence();
        $this->first = new Presence();
        $this->skipped = new Skipped();
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   of the log, as `LogReader::pieces` gives them
     * @param callable(int): void                  $progress
     * @param int|null                             $goal     place of the goal whose hits are counted; null for visitors
     */
    public static function of(array $pieces, Setup $setup, callable $progress, ?int $goal = null): self
    {
        $log = LogUnits::read($pieces, $setup, $progress);
        $ours = self::halves($setup, $goal, static fn (self $half, int $which) => $log->half($which, $half->unit(...), static fn () => null), $log->events > self::WORTH_TWO_EVENTS);
        $ours->lines = $log->lines;
        $ours->skipped = $log->skipped;

        return $ours;
    }

    /**
     * The same of events that come visitor by visitor, as a database gives them.
     *
     * @param callable(int): iterable<list<array<string, mixed>>> $visitors which half => all events of one visitor after the other
     */
    public static function ofVisitors(callable $visitors, Setup $setup, ?int $goal = null): self
    {
        return self::halves($setup, $goal, static function (self $half, int $which) use ($visitors, $setup): void {
            $cells = new Cells($setup);
            foreach ($visitors($which) as $rows) {
                $own = array_values(array_filter(array_map(static fn (array $row): ?array => $cells->of(++$half->lines, $row), $rows)));
                $own === [] || $half->unit(new Unit("v{$own[0][3]}", array_column($own, 1), $setup));
            }
        }, true);
    }

    /** @param callable(self, int): void $work of one half */
    private static function halves(Setup $setup, ?int $goal, callable $work, bool $isMuch): self
    {
        $orders = [new Spool(1), new Spool(1)];
        [$ours, $other] = TwoAtOnce::run(static function (int $half) use ($setup, $goal, $orders, $work): array {
            $ours = new self($setup, [$orders[$half]], $goal);
            $work($ours, $half);
            $orders[$half]->flush();

            return [[$ours->seen, $ours->exposed, $ours->first, $ours->hits, $ours->reached], $ours->from, $ours->to, $ours->hours, $ours->lines];
        }, $isMuch);
        $sum = new self($setup, $orders, $goal);
        $own = [$sum->seen, $sum->exposed, $sum->first, $sum->hits, $sum->reached];
        foreach ([$ours, $other] as [$presences, $from, $to, $hours, $lines]) {
            foreach ($presences as $i => $presence) {
                $own[$i]->plus($presence);
            }
            $sum->from = min($sum->from, $from);
            $sum->to = max($sum->to, $to);
            $sum->lines += $lines;
            foreach ($hours as $hour => $number) {
                $sum->hours[$hour] = ($sum->hours[$hour] ?? 0) + $number;
            }
        }

        return $sum;
    }

    /**
     * By what the visitors of a day may be counted, the plain way first.
     *
     * @param bool $ofVariants whether visitors of each variant are meant: then those who met it
     *
     * @return non-empty-array<string, Presence>
     */
    public function ways(bool $ofVariants): array
    {
        if ($this->goal !== null) {
            return ['hits' => $this->hits, 'reached' => $this->reached];
        }
        $ways = $ofVariants ? ['exposed' => $this->exposed, 'first' => $this->first, 'seen' => $this->seen] : ['seen' => $this->seen, 'exposed' => $this->exposed, 'first' => $this->first];

        return array_filter($ways, static fn (Presence $presence): bool => ! $presence->isEmpty()) ?: ['seen' => $this->seen];
    }

    private function unit(Unit $unit): void
    {
        if ($unit->rows === []) {
            return;
        }
        $slots = ['' => []];
        $exposed = [];
        $this->from = min($this->from, $unit->times[0]);
        $this->to = max($this->to, $unit->times[count($unit->times) - 1]);
        $variants = $this->setup->variants;
        $own = $unit->exposedAt === null ? null : $variants[$unit->variant];
        foreach ($unit->times as $i => $time) {
            $slot = Presence::slot($time);
            $hour = $slot >> 1;
            $this->hours[$hour] = ($this->hours[$hour] ?? 0) + 1;
            $slots[''][$slot] = true;
            if ($own !== null && $time >= $unit->times[(int) $unit->exposedAt]) {
                $slots[$own][$slot] = true;
            }
            if ($unit->rows[$i][Row::EXTRA] !== '') {
                $this->order($unit, $i, $own);
            }
        }
        $this->goal === null || $this->hits($unit, $this->goal, $own);
        foreach ($unit->exposures as $i) {
            $variant = $unit->props($i)['variant'] ?? null;
            $slot = Presence::slot($unit->times[$i]);
            if (in_array($variant, $variants, true)) {
                $exposed[$variant][$slot] = $exposed[''][$slot] = true;
            }
        }
        foreach ($slots as $variant => $when) {
            $this->seen->add((string) $variant, array_keys($when));
        }
        foreach ($exposed as $variant => $when) {
            $this->exposed->add((string) $variant, array_keys($when));
        }
        if ($own !== null) {
            $slot = Presence::slot($unit->times[(int) $unit->exposedAt]);
            $this->first->add($own, [$slot]);
            $this->first->add('', [$slot]);
        }
    }

    private function hits(Unit $unit, int $goal, ?string $variant): void
    {
        $slots = [];
        foreach (Hits::of($this->setup->goals[$goal], $goal, $unit) as $i) {
            $slot = Presence::slot($unit->times[$i]);
            $of = $variant !== null && $unit->times[$i] >= $unit->times[(int) $unit->exposedAt] ? ['', $variant] : [''];
            foreach ($of as $one) {
                $this->hits->add($one, [$slot]);
                $slots[$one][$slot] = true;
            }
        }
        foreach ($slots as $one => $when) {
            $this->reached->add((string) $one, array_keys($when));
        }
    }

    private function order(Unit $unit, int $i, ?string $variant): void
    {
        $props = $unit->props($i);
        $id = $props['order_id'] ?? null;
        $id = is_string($id) || is_int($id) ? mb_substr(mb_scrub(trim((string) $id)), 0, OrderRow::LONGEST_ID) : '';
        if ($id === '' && $unit->whats[$i]->name !== 'order') {
            return;
        }
        $value = $props['value'] ?? null;
        $currency = $props['currency'] ?? null;
        $what = $unit->whats[$i];
        $parts = ['page' => Row::text($what->page)];
        foreach (['device', 'browser', 'source', 'country'] as $place => $dimension) {
            ($what->parts[$place] ?? '') === '' || $parts[$dimension] = Row::text($what->parts[$place]);
        }
        $row = new OrderRow($id, $unit->times[$i], is_numeric($value) && abs((float) $value) < 1e15 ? (float) $value : null, is_string($currency) ? mb_strtoupper(mb_substr(mb_scrub(trim($currency)), 0, 12)) : '', $variant ?? '', $unit->rows[$i][Row::ID], $parts);
        $this->orders[0]->add(0, $row->line('o'));
    }
}

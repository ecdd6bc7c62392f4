<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Rows;

use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\Cells;
use Pellix\Core\Audit\Reading\LogUnits;
use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\ExclusionSum;
use Pellix\Core\Events\InvalidLog;

/** The visitors (or users) behind a number, the earliest first, with the events that they sent around it. */
final class Rows
{
    public const MOST = 200;

    private const MOST_EVENTS = 30;

    /** What the number is. */
    public int $total = 0;

    /** Who makes it up. */
    public int $units = 0;

    /** @var list<array<string, mixed>> */
    private array $rows = [];

    private function __construct(private readonly Setup $setup, private readonly Sought $sought)
    {
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   of a log, as `LogReader::pieces` gives them
     * @param callable(int): mixed                 $progress
     */
    public static function ofLog(array $pieces, Setup $setup, Sought $sought, callable $progress): self
    {
        $rows = new self($setup, $sought);
        $log = LogUnits::read($pieces, $setup, $progress);
        foreach ([0, 1] as $half) {
            $log->half($half, $rows->look(...), static fn () => null);
        }

        return $rows;
    }

    /** @param callable(int): iterable<list<array<string, mixed>>> $visitors which half => all events of one visitor after the other */
    public static function ofVisitors(callable $visitors, Setup $setup, Sought $sought): self
    {
        $rows = new self($setup, $sought);
        $cells = new Cells($setup);
        $line = 0;
        foreach ([0, 1] as $half) {
            foreach ($visitors($half) as $events) {
                $own = [];
                foreach ($events as $event) {
                    try {
                        $own[] = $cells->of(++$line, $event);
                    } catch (InvalidLog) {
                        // The audit left it out as well, and said so.
                    }
                }
                $own = array_values(array_filter($own));
                $own === [] || $rows->look(new Unit("v{$own[0][3]}", array_column($own, 1), $setup));
            }
        }

        return $rows;
    }

    private function look(Unit $unit): void
    {
        $unit = $this->setup->settings->exclusions->left($unit, $this->setup, new ExclusionSum());
        if ($unit === null || $unit->rows === []) {
            return;
        }
        $part = $this->sought->part;
        $cohorts = $this->sought->behind->cohorts($unit, $this->setup, $this->sought->goal);
        if ($cohorts->of === []) {
            return;
        }
        $cohorts = $part->isAll() ? $cohorts : $cohorts->part($part->since, $part->until, $part->key);
        $n = $this->sought->variant === null ? $cohorts->total() : $cohorts->byVariant(count($this->setup->variants))[$this->sought->variant];
        if ($n === 0) {
            return;
        }
        $this->total += $n;
        $this->units++;
        $this->rows[] = $this->row($unit, $n);
        if (count($this->rows) >= 2 * self::MOST) {
            $this->cut();
        }
    }

    /** @return array<string, mixed> */
    private function row(Unit $unit, int $n): array
    {
        $at = $unit->exposedAt ?? $unit->viewedAt ?? 0;
        $parts = array_combine(['device', 'browser', 'source', 'country'], array_map(Row::text(...), array_slice([...explode(Row::PART, $unit->context === '' ? $unit->whats[$at]->context : $unit->context), '', '', '', ''], 0, 4)));
        // Of personal data not even the page is repeated.
        $isPersonal = $this->sought->behind === Behind::Personal;
        $events = [];
        $from = max(0, $this->begin($unit, $at) - intdiv(self::MOST_EVENTS, 3));
        foreach (array_slice($unit->whats, $from, self::MOST_EVENTS, true) as $i => $what) {
            $props = $unit->props($i);
            $events[] = [
                'at' => Finding::time($unit->times[$i]), 'name' => Row::text($what->name), 'page' => $isPersonal ? '' : Row::text($what->page),
                'variant' => $what->name === 'exposure' && is_scalar($props['variant'] ?? null) && ($props['experiment'] ?? null) === $this->setup->experiment->key ? (string) $props['variant'] : null,
                'delay' => Row::delay($unit->rows[$i]),
            ];
        }

        return [
            'visitor' => $unit->id, 'n' => $n, 'at' => Finding::time($unit->times[$at]), 'variant' => $unit->exposedAt === null ? null : $this->setup->variants[$unit->variant],
            'due' => $unit->due, 'page' => $isPersonal ? '' : Row::text($unit->whats[$at]->page), ...$parts, 'returning' => $unit->isReturning, 'events' => count($unit->rows), 'before' => $from, 'around' => $events,
        ];
    }

    /** Position of the event that is looked at: of a number of events the first within the stretch. */
    private function begin(Unit $unit, int $at): int
    {
        foreach ($this->sought->behind === Behind::Events ? $unit->times : [] as $i => $time) {
            if ($this->sought->part->holds($time)) {
                return $i;
            }
        }

        return $at;
    }

    private function cut(): void
    {
        usort($this->rows, static fn (array $a, array $b): int => [$a['at'], $a['visitor']] <=> [$b['at'], $b['visitor']]);
        $this->rows = array_slice($this->rows, 0, self::MOST);
    }

    /** @return array{total: int, units: int, rows: list<array<string, mixed>>} */
    public function toArray(): array
    {
        $this->cut();

        return ['total' => $this->total, 'units' => $this->units, 'rows' => $this->rows];
    }
}

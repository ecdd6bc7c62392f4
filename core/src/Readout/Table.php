<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Audit\Sums\Rarest;

/**
 * What all units come to: sums by item, variant, epoch, and by the day on which something was added, the segment, or the size. It
 * grows with these, never with the number of units; and whatever was added can be taken off again.
 *
 * A cell of units has `[units, sessions, sessions²]`; a cell of an item
 * `[units that reached it, hits, y, y², y³, y · sessions, e, e², e · y, capped]`, where y is a unit's measure and e the same measure before its
 * first exposure. Sums of squares are of units: when a unit's y grows from one day to another, the later day gets what the square grew by. So
 * the sums up to a day are those of that day.
 */
final class Table
{
    /** Kinds of parts: a day, a segment, a size (see `Sizes`). */
    public const DAY = 'd';
    public const SEGMENT = 's';
    public const SIZE = 'h';

    private const MOST_SEGMENTS = 1500;
    private const MOST_CELLS = 200_000;

    /** @var array<int, array<int, array<string, array<int|string, array<int, int|float>>>>> variant, epoch, kind, part => cell of units */
    public array $units = [];

    /** @var array<string, array<int, array<int, array<string, array<int|string, array<int, int|float>>>>>> item, variant, epoch, kind, part => cell */
    public array $cells = [];

    /** @var array<string, array{Measure, float|null, bool, bool}> key of an item => its measure, its cap, whether segments and sizes are told apart */
    private array $items = [];

    /** @param list<Item> $items */
    public function __construct(array $items)
    {
        foreach ($items as $item) {
            $this->items[$item->key] = [$item->measure, $item->cap, $item->role !== 'visit', $item->visit === null && $item->measure === Measure::Mean];
        }
    }

    /** @param int $sign 1, or -1 to take it off again */
    public function add(UnitTotals $unit, int $sign = 1): void
    {
        $own = [$sign, $sign * $unit->sessions, $sign * $unit->sessions ** 2];
        $cells = &$this->units[$unit->variant][$unit->epoch];
        self::plusCell($cells[self::DAY][$unit->day], $own);
        foreach ($unit->segments as $segment) {
            self::plusCell($cells[self::SEGMENT][$segment], $own);
        }
        unset($cells);
        foreach ($unit->items as $key => $one) {
            if (isset($this->items[$key])) {
                $this->item((string) $key, $unit, $one['steps'], $one['earlier'], $sign);
            }
        }
    }

    /** @param list<array{int, int, float}> $steps */
    private function item(string $key, UnitTotals $unit, array $steps, float $earlier, int $sign): void
    {
        [$measure, $cap, $hasSegments, $hasSizes] = $this->items[$key];
        $cells = &$this->cells[$key][$unit->variant][$unit->epoch];
        $all = [0, 0, 0.0, 0.0, 0.0, 0.0, $sign * $earlier, $sign * $earlier ** 2, 0.0, 0];
        if ($earlier != 0.0) {
            self::plusCell($cells[self::DAY][$unit->day], $all);
        }
        $y = $sum = 0.0;
        $isReached = $isCapped = false;
        foreach ($steps as [$day, $hits, $value]) {
            $sum += $value;
            $now = match (true) {
                $measure === Measure::Rate => 1.0,
                $cap !== null && $sum > $cap => $cap,
                default => $sum,
            };
            $crosses = ! $isCapped && $cap !== null && $measure !== Measure::Rate && $sum > $cap;
            $more = [
                $sign * ($isReached ? 0 : 1), $sign * $hits, $sign * ($now - $y), $sign * ($now ** 2 - $y ** 2), $sign * ($now ** 3 - $y ** 3),
                $sign * $unit->sessions * ($now - $y), 0.0, 0.0, $sign * $earlier * ($now - $y), $crosses ? $sign : 0,
            ];
            self::plusCell($cells[self::DAY][$day], $more);
            foreach ($more as $i => $number) {
                $all[$i] += $number;
            }
            $y = $now;
            $isReached = true;
            $isCapped = $isCapped || $crosses;
        }
        foreach ($hasSegments ? $unit->segments : [] as $segment) {
            self::plusCell($cells[self::SEGMENT][$segment], $all);
        }
        if ($hasSizes && $y != 0.0) {
            self::plusCell($cells[self::SIZE][Sizes::of($y)], $all);
        }
    }

    /**
     * @param array<int, int|float>|null $to
     * @param array<int, int|float>      $more
     *
     * @param-out array<int, int|float> $to
     */
    private static function plusCell(?array &$to, array $more): void
    {
        if ($to === null) {
            $to = $more;

            return;
        }
        // In place: a new list for each would cost as much again.
        foreach ($more as $i => $number) {
            if ($number != 0) {
                $to[$i] += $number;
            }
        }
    }

    public function plus(self $other): void
    {
        foreach ($other->units as $variant => $epochs) {
            $this->units[$variant] = self::sum($this->units[$variant] ?? [], $epochs);
        }
        foreach ($other->cells as $item => $variants) {
            foreach ($variants as $variant => $epochs) {
                $this->cells[$item][$variant] = self::sum($this->cells[$item][$variant] ?? [], $epochs);
            }
        }
    }

    /**
     * @param array<int, array<string, array<int|string, array<int, int|float>>>> $to   epoch, kind, part => cell
     * @param array<int, array<string, array<int|string, array<int, int|float>>>> $more
     *
     * @return array<int, array<string, array<int|string, array<int, int|float>>>>
     */
    private static function sum(array $to, array $more): array
    {
        foreach ($more as $epoch => $kinds) {
            foreach ($kinds as $kind => $parts) {
                foreach ($parts as $part => $cell) {
                    self::plusCell($to[$epoch][$kind][$part], $cell);
                }
            }
        }

        return $to;
    }

    /** Lets go of the rarest segments; to be called between the parts of a log, so that what is kept does not hang on the order of its lines. */
    public function prune(): void
    {
        $numbers = [];
        foreach ($this->units as $epochs) {
            foreach ($epochs as $kinds) {
                foreach ($kinds[self::SEGMENT] ?? [] as $segment => $cell) {
                    $numbers[(string) $segment] = ($numbers[(string) $segment] ?? 0) + (int) $cell[0];
                }
            }
        }
        foreach (Rarest::of(array_map(static fn (): int => 1, $numbers), static fn (string $segment): int => $numbers[$segment], self::MOST_SEGMENTS, self::MOST_CELLS) as $rare) {
            foreach ($this->units as $variant => $epochs) {
                foreach (array_keys($epochs) as $epoch) {
                    unset($this->units[$variant][$epoch][self::SEGMENT][$rare]);
                    foreach (array_keys($this->cells) as $item) {
                        unset($this->cells[$item][$variant][$epoch][self::SEGMENT][$rare]);
                    }
                }
            }
        }
    }

    /**
     * What a variant comes to in each epoch.
     *
     * @param string|null $segment null for everybody
     * @param int|null    $until   the last day that counts; null for all (of segments days are not told apart)
     *
     * @return array<int, Sample> epoch => sample
     */
    public function samples(Item $item, int $variant, ?string $segment = null, ?int $until = null): array
    {
        $samples = [];
        foreach ($this->units[$variant] ?? [] as $epoch => $kinds) {
            $own = $this->cells[$item->key][$variant][$epoch] ?? [];
            [$units, $cells] = $segment === null
                ? [self::until($kinds[self::DAY] ?? [], $until), self::until($own[self::DAY] ?? [], $until)]
                : [array_filter([$kinds[self::SEGMENT][$segment] ?? null]), array_filter([$own[self::SEGMENT][$segment] ?? null])];
            if ($units !== []) {
                $samples[$epoch] = Sample::of($item->measure, self::total($units, 3), self::total($cells, 10));
            }
        }
        ksort($samples);

        return $samples;
    }

    /** @return array{int, int} units that entered on a day, and hits on it, of all epochs */
    public function ofDay(Item $item, int $variant, int $day): array
    {
        [$units, $hits] = [0, 0];
        foreach ($this->units[$variant] ?? [] as $kinds) {
            $units += (int) ($kinds[self::DAY][$day][0] ?? 0);
        }
        foreach ($this->cells[$item->key][$variant] ?? [] as $kinds) {
            $hits += (int) ($kinds[self::DAY][$day][1] ?? 0);
        }

        return [$units, $hits];
    }

    /**
     * @param array<int|string, array<int, int|float>> $days
     *
     * @return array<int|string, array<int, int|float>>
     */
    private static function until(array $days, ?int $until): array
    {
        return $until === null ? $days : array_filter($days, static fn (int|string $day): bool => $day <= $until, ARRAY_FILTER_USE_KEY);
    }

    /**
     * @param array<int|string, array<int, int|float>> $cells
     *
     * @return array<int, int|float>
     */
    private static function total(array $cells, int $length): array
    {
        $total = null;
        foreach ($cells as $cell) {
            self::plusCell($total, $cell);
        }

        return $total ?? array_fill(0, $length, 0);
    }

    /** @return list<int> days on which a unit entered or an item grew, in order */
    public function days(): array
    {
        $days = [];
        foreach ([$this->units, ...array_values($this->cells)] as $variants) {
            foreach ($variants as $epochs) {
                foreach ($epochs as $kinds) {
                    $days += $kinds[self::DAY] ?? [];
                }
            }
        }
        ksort($days);

        return array_map(intval(...), array_keys($days));
    }

    /** @return list<string> */
    public function segments(): array
    {
        $segments = [];
        foreach ($this->units as $epochs) {
            foreach ($epochs as $kinds) {
                $segments += $kinds[self::SEGMENT] ?? [];
            }
        }
        ksort($segments, SORT_STRING);

        return array_map(strval(...), array_keys($segments));
    }

    /** @return array<int, array{int, float}> size => units of that size, and the sum of their values; of all epochs together */
    public function sizes(Item $item, int $variant): array
    {
        $sizes = [];
        foreach ($this->cells[$item->key][$variant] ?? [] as $kinds) {
            foreach ($kinds[self::SIZE] ?? [] as $size => $cell) {
                $sizes[(int) $size] = [($sizes[(int) $size][0] ?? 0) + (int) $cell[0], ($sizes[(int) $size][1] ?? 0.0) + $cell[2]];
            }
        }
        ksort($sizes);

        return array_filter($sizes, static fn (array $one): bool => $one[0] > 0);
    }
}

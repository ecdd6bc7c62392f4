<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Audit\Reading\Gathered;
use Pellix\Core\Formats\Spool;

/**
 * Orders of two sources, matched by their ids; those that have none, or whose ids are of another kind, by value and time. Both
 * sides may be of any length: what belongs together is brought together on disk, part by part.
 */
final class OrderMatch
{
    private const SLOT = 1_800_000;

    /** Half hours that a clock may be off. */
    private const FARTHEST = 28;

    /** Where so many ids of the smaller side are known to the other, ids mean the same on both (common practice, no source). */
    private const SAME_IDS = 0.5;

    /** A clock is off where more than half of the matched orders are off by as much; and there are a few. */
    private const FEWEST_SHIFTED = 3;

    /** Of orders of one value so many are held at once. */
    private const MOST_ALIKE = 20_000;

    public int $matchedById = 0;

    /** Half hours that their clock is ahead of ours. */
    public int $ahead = 0;

    /** Orders that one side tells more than once, and the first of them. */
    public int $doubled = 0;

    /** @var list<array{order_id: string, times: int, side: string}> */
    public array $twice = [];

    /** Lines of two orders that are one, ours first; and of an order that has no match. */
    public Spool $pairs;
    public Spool $left;

    /** @var array<int, int> half hours that their clock is ahead => matched orders */
    private array $offsets = [];

    /** @param int $window milliseconds */
    private function __construct(private readonly int $window)
    {
        $this->pairs = new Spool(1);
        $this->left = new Spool(1);
    }

    /**
     * @param list<Spool> $ours
     * @param int         $window seconds that the times of one order may differ by, beyond what the clocks do
     */
    public static function of(array $ours, Spool $theirs, int $window): self
    {
        $match = new self(1000 * $window);
        $match->run($ours, $theirs);

        return $match;
    }

    /** @param list<Spool> $ours */
    private function run(array $ours, Spool $theirs): void
    {
        [$byId, $rest] = [new Spool(1), new Spool(1)];
        foreach ([...$ours, $theirs] as $spool) {
            $file = $spool->part(0);
            while (($line = fgets($file)) !== false) {
                [$side, $row] = OrderRow::of(substr($line, 1));
                $row->id === '' ? $rest->add(0, $row->line($side, $row->valueKey())) : $byId->add(0, $row->line($side, bin2hex($row->id)));
            }
        }
        $sides = ['o' => 0, 't' => 0];
        foreach (Gathered::of([$byId]) as [, $lines]) {
            $rows = self::sides($lines);
            foreach (['o' => 'ours', 't' => 'theirs'] as $side => $name) {
                $sides[$side] += $rows[$side] === [] ? 0 : 1;
                if (count($rows[$side]) > 1 && ++$this->doubled <= OrderDifferences::LISTED) {
                    $this->twice[] = ['order_id' => $rows[$side][0]->id, 'times' => count($rows[$side]), 'side' => $name];
                }
            }
            if ($rows['o'] !== [] && $rows['t'] !== []) {
                $this->matchedById++;
                $this->pair($rows['o'][0], $rows['t'][0]);
            } else {
                $row = $rows['o'][0] ?? $rows['t'][0];
                $rest->add(0, $row->line($rows['o'] === [] ? 't' : 'o', $row->valueKey()));
            }
        }
        $sameIds = $this->matchedById > 0 && $this->matchedById >= self::SAME_IDS * min($sides);
        $this->ahead = $this->shift($this->matchedById);
        $this->byValue($rest, $sameIds);
    }

    /**
     * @param list<list<string>> $lines
     *
     * @return array{o: list<OrderRow>, t: list<OrderRow>} each telling once, the earliest first
     */
    private static function sides(array $lines): array
    {
        $rows = ['o' => [], 't' => []];
        foreach ($lines as [$json]) {
            [$side, $row] = OrderRow::of($json);
            $rows[$side === 'o' ? 'o' : 't'][$row->told] = $row;
        }
        foreach ($rows as $side => $those) {
            usort($those, static fn (OrderRow $a, OrderRow $b): int => $a->time <=> $b->time ?: strcmp($a->told, $b->told));
            $rows[$side] = $those;
        }

        return $rows;
    }

    private function pair(OrderRow $own, OrderRow $their): void
    {
        $this->pairs->add(0, rtrim($own->line('o'), "\n").$their->line('t'));
        if ($own->time !== null && $their->time !== null) {
            $off = (int) round(($their->time - $own->time) / self::SLOT);
            $this->offsets[$off] = ($this->offsets[$off] ?? 0) + 1;
        }
    }

    /** Half hours by which more than half of them are off; none where there is no such number. */
    private function shift(int $all): int
    {
        arsort($this->offsets);
        $off = (int) (array_key_first($this->offsets) ?? 0);
        $number = $this->offsets[$off] ?? 0;

        return $number >= self::FEWEST_SHIFTED && 2 * $number > $all && abs($off) <= self::FARTHEST ? $off : 0;
    }

    private function byValue(Spool $rest, bool $sameIds): void
    {
        if ($this->matchedById === 0) {
            foreach (Gathered::of([$rest]) as [$value, $lines]) {
                $value === '' || $this->offsetsOf($lines);
            }
            $this->ahead = $this->likeliest();
        }
        foreach (Gathered::of([$rest]) as [$value, $lines]) {
            foreach ($this->nearest($value, $lines, $sameIds) as [$side, $row]) {
                $this->left->add(0, $row->line($side));
            }
        }
    }

    /**
     * Every offset at which two orders of one value would be one.
     *
     * @param list<list<string>> $lines
     */
    private function offsetsOf(array $lines): void
    {
        $rows = ['o' => [], 't' => []];
        foreach (array_slice($lines, 0, self::MOST_ALIKE) as [$json]) {
            [$side, $row] = OrderRow::of($json);
            $row->time === null || $rows[$side === 'o' ? 'o' : 't'][] = $row->time;
        }
        sort($rows['o']);
        sort($rows['t']);
        $begin = 0;
        $reach = (self::FARTHEST + 1) * self::SLOT;
        foreach ($rows['t'] as $their) {
            while ($begin < count($rows['o']) && $rows['o'][$begin] < $their - $reach) {
                $begin++;
            }
            for ($i = $begin; $i < count($rows['o']) && $i < $begin + 500 && $rows['o'][$i] <= $their + $reach; $i++) {
                $apart = $their - $rows['o'][$i];
                $off = (int) round($apart / self::SLOT);
                if (abs($apart - $off * self::SLOT) <= $this->window) {
                    $this->offsets[$off] = ($this->offsets[$off] ?? 0) + 1;
                }
            }
        }
    }

    /** The offset at which clearly more orders match than at any other. */
    private function likeliest(): int
    {
        arsort($this->offsets);
        $off = (int) (array_key_first($this->offsets) ?? 0);
        $numbers = array_values($this->offsets);
        $next = $numbers[1] ?? 0;

        return ($numbers[0] ?? 0) >= self::FEWEST_SHIFTED && $numbers[0] - $next > 3 * sqrt($numbers[0] + $next) && abs($off) <= self::FARTHEST ? $off : 0;
    }

    /**
     * Matches orders of one value, each of theirs with the one of ours that is nearest in time.
     *
     * @param list<list<string>> $lines
     *
     * @return list<array{string, OrderRow}> what is left
     */
    private function nearest(string $value, array $lines, bool $sameIds): array
    {
        $left = $own = $their = [];
        foreach ($lines as [$json]) {
            [$side, $row] = OrderRow::of($json);
            if ($value === '' || $row->time === null) {
                $left[] = [$side, $row];
            } elseif ($side === 'o') {
                $own[] = $row;
            } else {
                $their[] = $row;
            }
        }
        $shift = $this->ahead * self::SLOT;
        $byTime = static fn (OrderRow $a, OrderRow $b): int => $a->time <=> $b->time ?: strcmp($a->told, $b->told);
        usort($own, $byTime);
        usort($their, $byTime);
        /** @var list<array{int, int, int}> $near apart, place of theirs, place of ours */
        $near = [];
        $begin = 0;
        foreach ($their as $t => $row) {
            $at = (int) $row->time - $shift;
            while ($begin < count($own) && $own[$begin]->time < $at - $this->window) {
                $begin++;
            }
            for ($o = $begin; $o < count($own) && $own[$o]->time <= $at + $this->window && $o < $begin + 200; $o++) {
                // Two ids of the same kind that differ are two orders, however much alike.
                if (! $sameIds || $row->id === '' || $own[$o]->id === '') {
                    $near[] = [abs((int) $own[$o]->time - $at), $t, $o];
                }
            }
        }
        sort($near);
        $taken = ['o' => [], 't' => []];
        foreach ($near as [, $t, $o]) {
            if (! isset($taken['t'][$t]) && ! isset($taken['o'][$o])) {
                $taken['t'][$t] = $taken['o'][$o] = true;
                $this->pairs->add(0, rtrim($own[$o]->line('o'), "\n").$their[$t]->line('t'));
            }
        }
        foreach (array_diff_key($their, $taken['t']) as $row) {
            $left[] = ['t', $row];
        }
        foreach (array_diff_key($own, $taken['o']) as $row) {
            $left[] = ['o', $row];
        }

        return $left;
    }
}

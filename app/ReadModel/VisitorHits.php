<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Goals\Hit;

/** The hits of some visitors as they were kept and as they are now; of an order that was sent again, the first counts. */
final class VisitorHits
{
    /** @var array<string, array<string, array<string, mixed>>> visitor, with a mark before it => key => row of `goal_hits`, as it was */
    private array $before = [];

    /** @var array<string, array<string, array<string, mixed>>> the same, as it is now */
    private array $now = [];

    /** @param array<string, VisitorLog> $logs visitor, with a mark before it => all that it did */
    public function __construct(private readonly Definitions $of, array $logs)
    {
        $this->read(array_map(static fn (string $marked): string => substr($marked, 1), array_keys($logs)));
        foreach ($logs as $marked => $log) {
            $this->now[$marked] = $this->hits($log);
        }
        $this->settleOrders();
    }

    /** @return list<string> all visitors whose hits are told here, with a mark before each: also those who lost or won an order */
    public function visitors(): array
    {
        return array_map(strval(...), array_keys($this->now));
    }

    /** @return list<string> everybody who had signed in at one of the hits */
    public function users(): array
    {
        $users = [];
        foreach ([...array_values($this->before), ...array_values($this->now)] as $rows) {
            array_push($users, ...array_filter(array_column($rows, 'user'), is_string(...)));
        }

        return $users;
    }

    /** @return array{array<int, list<Hit>>, array<int, list<Hit>>} a visitor's hits that count, by the count of their goal: before, and now */
    public function ofVisitor(string $marked): array
    {
        return [self::counting($this->before[$marked]), self::counting($this->now[$marked])];
    }

    /** @return array{array<int, list<Hit>>, array<int, list<Hit>>} before and now */
    public function ofUser(string $user): array
    {
        $others = [];
        foreach (DB::table('goal_hits')->where('site_id', $this->of->site->id)->where('user', $user)->whereIn('count_id', array_keys($this->of->goals))->get() as $row) {
            isset($this->now["#{$row->visitor}"]) || $others[] = (array) $row;
        }
        $hits = [];
        foreach ([$this->before, $this->now] as $i => $all) {
            $own = $others;
            foreach ($all as $rows) {
                array_push($own, ...array_values(array_filter($rows, static fn (array $row): bool => $row['user'] === $user)));
            }
            usort($own, static fn (array $a, array $b): int => strcmp($a['time'], $b['time']));
            $hits[$i] = self::counting($own);
        }

        return $hits;
    }

    public function isAsBefore(string $marked): bool
    {
        $before = $this->before[$marked];
        foreach ($this->now[$marked] as $key => $row) {
            if (! isset($before[$key]) || ! HitRow::same($before[$key], $row)) {
                return false;
            }
        }

        return count($before) === count($this->now[$marked]);
    }

    public function write(): void
    {
        $rows = [];
        foreach ($this->now as $marked => $now) {
            $before = $this->before[$marked];
            foreach (array_diff_key($before, $now) as $row) {
                DB::table('goal_hits')->where('site_id', $row['site_id'])->where('visitor', $row['visitor'])->where('count_id', $row['count_id'])->where('time', $row['time'])->where('event_id', $row['event_id'])->delete();
            }
            foreach ($now as $key => $row) {
                if (! isset($before[$key]) || ! HitRow::same($before[$key], $row)) {
                    $rows[] = $row;
                }
            }
        }
        usort($rows, static fn (array $a, array $b): int => strcmp($a['visitor'], $b['visitor']) ?: $a['count_id'] <=> $b['count_id']);
        Upserts::write('goal_hits', $rows, array_fill_keys(['user', 'session', 'url', 'events', 'value', 'currency', 'order_id', 'counts'], 'set'));
    }

    /** @param list<string> $visitors */
    private function read(array $visitors): void
    {
        foreach ($visitors as $visitor) {
            $this->before["#{$visitor}"] = [];
        }
        $ids = array_keys($this->of->goals);
        if ($ids === [] || $visitors === []) {
            return;
        }
        foreach (DB::table('goal_hits')->where('site_id', $this->of->site->id)->whereIn('visitor', $visitors)->whereIn('count_id', $ids)->get() as $row) {
            $row = (array) $row;
            $this->before["#{$row['visitor']}"][HitRow::key($row)] = $row;
        }
    }

    /** @return array<string, array<string, mixed>> */
    private function hits(VisitorLog $log): array
    {
        $rows = [];
        foreach ($this->of->goals as $id => $count) {
            foreach ($log->hits($count->goal) as $hit) {
                $row = HitRow::of($this->of->site->id, $id, $hit);
                $rows[HitRow::key($row)] = $row;
            }
        }

        return $rows;
    }

    /**
     * Of an order that was sent again, the first counts, whoever sent it. The hit that counts is the first of all that are
     * kept: so it is enough to know that one, unless it was one of these visitors' and is so no more.
     */
    private function settleOrders(): void
    {
        $own = $this->orders($this->now);
        $orders = array_keys($own + $this->orders($this->before));
        $counting = $this->countingNow($orders);
        foreach ($orders as $key) {
            $candidates = $own[$key] ?? [];
            sort($candidates);
            $first = $candidates[0] ?? null;
            $holder = $counting[$key] ?? null;
            $isOthers = $holder !== null && ! isset($this->now["#{$holder['visitor']}"]);
            $other = $isOthers ? $holder : ($holder === null || ($first !== null && $first[0] <= self::moment($holder)) ? null : $this->firstOfOthers($holder));
            $isOwn = $first !== null && ($other === null || $first[0] < self::moment($other));
            foreach ($candidates as $i => [, $marked, $row]) {
                $this->now[$marked][$row]['counts'] = $isOwn && $i === 0 ? 1 : 0;
            }
            if ($other !== null && (bool) $other['counts'] === $isOwn) {
                $this->turn($other, $isOwn ? 0 : 1);
            }
        }
    }

    /**
     * @param array<string, array<string, array<string, mixed>>> $all visitor => key => row
     *
     * @return array<string, list<array{string, string, string}>> count and order => moment, visitor and key of each hit
     */
    private function orders(array $all): array
    {
        $orders = [];
        foreach ($all as $marked => $rows) {
            foreach ($rows as $key => $row) {
                if ($row['order_id'] !== null) {
                    $orders["{$row['count_id']} {$row['order_id']}"][] = [self::moment($row), (string) $marked, (string) $key];
                }
            }
        }

        return $orders;
    }

    /**
     * @param list<string> $orders counts and orders
     *
     * @return array<string, array<string, mixed>> count and order => the hit that counts until now
     */
    private function countingNow(array $orders): array
    {
        $byCount = $found = [];
        foreach ($orders as $key) {
            [$count, $order] = explode(' ', $key, 2);
            $byCount[$count][] = $order;
        }
        foreach ($byCount as $count => $all) {
            foreach (array_chunk($all, 500) as $part) {
                foreach (DB::table('goal_hits')->where('count_id', $count)->whereIn('order_id', $part)->where('counts', 1)->get() as $row) {
                    $found["{$count} {$row->order_id}"] = (array) $row;
                }
            }
        }

        return $found;
    }

    /**
     * The first hit of the same order by somebody else than these visitors.
     *
     * @param array<string, mixed> $holder
     *
     * @return array<string, mixed>|null
     */
    private function firstOfOthers(array $holder): ?array
    {
        foreach (DB::table('goal_hits')->where('count_id', $holder['count_id'])->where('order_id', $holder['order_id'])->orderBy('time')->orderBy('event_id')->lazy(200) as $row) {
            if (! isset($this->now["#{$row->visitor}"])) {
                return (array) $row;
            }
        }

        return null;
    }

    /** @param array<string, mixed> $row */
    private static function moment(array $row): string
    {
        return "{$row['time']} {$row['event_id']}";
    }

    /**
     * Lets a hit of another visitor count, or not count any more.
     *
     * @param array<string, mixed> $row
     */
    private function turn(array $row, int $counts): void
    {
        $marked = "#{$row['visitor']}";
        if (! isset($this->before[$marked])) {
            $this->before[$marked] = [];
            $this->read([$row['visitor']]);
            $this->now[$marked] = $this->before[$marked];
        }
        $this->now[$marked][HitRow::key($row)]['counts'] = $counts;
    }

    /**
     * @param array<array<string, mixed>> $rows of one visitor or user
     *
     * @return array<int, list<Hit>> by the count of their goal, in the order of time: those that count
     */
    private static function counting(array $rows): array
    {
        $hits = [];
        foreach ($rows as $row) {
            if ((int) $row['counts'] === 1) {
                $hits[(int) $row['count_id']][] = HitRow::hit($row);
            }
        }

        return $hits;
    }
}

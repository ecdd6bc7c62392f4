<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Site;
use App\Storage\EventMonths;
use App\Storage\Streamed;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use PDO;
use PDOStatement;

/**
 * The stored events of a site, visitor by visitor. Each month lies in the order of visitors already, so the months are read side by
 * side and merged: nothing is sorted, and no more than the events of one visitor are held.
 */
final readonly class StoredLog
{
    /** Fewer rows are read by one process. */
    private const WORTH_TWO = 20_000;

    /** @var list<string> */
    private array $partitions;

    /** About as many visitors come before it as after it, in the largest month; null where there are few. */
    private ?string $middle;

    /** @param CarbonImmutable|null $arrivedBefore what arrives later is not looked at yet; null for all that is there */
    public function __construct(private Site $site, private CarbonImmutable $from, private CarbonImmutable $to, private ?CarbonImmutable $arrivedBefore = null, EventMonths $months = new EventMonths())
    {
        $this->partitions = $months->partitions($from, $to);
        $this->middle = $this->middle();
    }

    /**
     * @param int $half of the visitors: 0 or 1
     *
     * @return iterable<list<array<string, mixed>>> all events of one visitor after the other, in the form of an event log
     */
    public function visitors(int $half): iterable
    {
        if ($this->middle === null && $half === 1) {
            return;
        }
        /** @var list<array{list<string|null>, PDOStatement}> $heads the next row of each month, and the others */
        $heads = [];
        foreach ($this->partitions as $partition) {
            $rows = $this->select($partition, $half);
            $row = $rows->fetch(PDO::FETCH_NUM);
            if ($row !== false) {
                $heads[] = [$row, $rows];
            }
        }
        while ($heads !== []) {
            $visitor = min(array_map(static fn (array $head): string => "#{$head[0][StoredRow::VISITOR]}", $heads));
            $events = [];
            foreach ($heads as $i => [$row, $rows]) {
                while ($row !== false && "#{$row[StoredRow::VISITOR]}" === $visitor) {
                    if (count($events) < StoredRow::MOST_EVENTS) {
                        $events[] = StoredRow::event($row);
                    }
                    $row = $rows->fetch(PDO::FETCH_NUM);
                }
                $heads[$i] = $row === false ? null : [$row, $rows];
            }
            $heads = array_values(array_filter($heads));
            yield $events;
        }
    }

    private function middle(): ?string
    {
        $rows = DB::table('information_schema.partitions')->where('table_schema', DB::connection()->getDatabaseName())->where('table_name', 'events')
            ->whereIn('partition_name', $this->partitions)->orderByDesc('table_rows')->first(['partition_name', 'table_rows']);
        if ($rows === null || $rows->table_rows < self::WORTH_TWO) {
            return null;
        }

        // Passes over half of the month's index, once; of a site that has less than half of all events there is none, and one process reads it.
        return DB::selectOne("select visitor from events partition ({$rows->partition_name}) where site_id = ? order by visitor limit 1 offset ".intdiv((int) $rows->table_rows, 2), [$this->site->id])?->visitor;
    }

    private function select(string $partition, int $half): PDOStatement
    {
        return (new Streamed())->rows(
            'select '.StoredRow::COLUMNS." from events partition ({$partition}) force index (primary) where site_id = ? and time >= ? and time <= ?"
                .($this->arrivedBefore === null ? '' : ' and received < ?').($this->middle === null ? '' : ' and visitor '.($half === 0 ? '<' : '>=').' ?').' order by visitor, time',
            [$this->site->id, $this->from->format('Y-m-d H:i:s.v'), $this->to->format('Y-m-d H:i:s.v'), ...($this->arrivedBefore === null ? [] : [$this->arrivedBefore->format('Y-m-d H:i:s.v')]), ...($this->middle === null ? [] : [$this->middle])],
        );
    }
}

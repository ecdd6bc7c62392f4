<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Site;
use App\Storage\EventMonths;
use Carbon\CarbonImmutable;
use Illuminate\Database\Connectors\ConnectionFactory;
use Illuminate\Support\Facades\DB;
use PDO;
use PDOStatement;

/**
 * The stored events of a site, visitor by visitor. Each month lies in the order of visitors already, so the months are read side by
 * side and merged: nothing is sorted, and no more than the events of one visitor are held.
 */
final readonly class StoredLog
{
    private const COLUMNS = 'event_id, visitor, user, time, received, name, url, referrer, agent, props, device, browser, source, country';

    /** Whoever has more events is cut off by the audit anyway. */
    private const MOST_EVENTS = 30_000;

    /** Fewer rows are read by one process. */
    private const WORTH_TWO = 20_000;

    /** @var list<string> */
    private array $partitions;

    /** About as many visitors come before it as after it, in the largest month; null where there are few. */
    private ?string $middle;

    public function __construct(private Site $site, private CarbonImmutable $from, private CarbonImmutable $to, EventMonths $months = new EventMonths())
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
            $visitor = min(array_map(static fn (array $head): string => "#{$head[0][1]}", $heads));
            $events = [];
            foreach ($heads as $i => [$row, $rows]) {
                while ($row !== false && "#{$row[1]}" === $visitor) {
                    if (count($events) < self::MOST_EVENTS) {
                        $events[] = self::event($row);
                    }
                    $row = $rows->fetch(PDO::FETCH_NUM);
                }
                $heads[$i] = $row === false ? null : [$row, $rows];
            }
            $heads = array_values(array_filter($heads));
            yield $events;
        }
    }

    /**
     * @param list<string|null> $row
     *
     * @return array<string, mixed>
     */
    private static function event(array $row): array
    {
        [$id, $visitor, $user, $time, $received, $name, $url, $referrer, $agent, $json] = $row;
        $props = $json === '{}' ? [] : (array) json_decode((string) $json, true, 64);
        foreach (['device' => 10, 'browser' => 11, 'source' => 12, 'country' => 13] as $segment => $place) {
            if ($row[$place] !== null) {
                $props[$segment] = $row[$place];
            }
        }
        $time[10] = $received[10] = 'T';

        return ['id' => $id, 'visitor' => $visitor, 'user' => $user, 'time' => "{$time}Z", 'received' => "{$received}Z", 'name' => $name, 'url' => $url, 'referrer' => $referrer, 'agent' => $agent, 'props' => $props];
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

    /** On a connection of its own: rows come one by one, and this may be a process that was forked. */
    private function select(string $partition, int $half): PDOStatement
    {
        $connection = app(ConnectionFactory::class)->make([...(array) config('database.connections.mariadb'), 'options' => [PDO::MYSQL_ATTR_USE_BUFFERED_QUERY => false, PDO::ATTR_EMULATE_PREPARES => true, PDO::ATTR_STRINGIFY_FETCHES => true]], 'audit');
        $statement = $connection->getPdo()->prepare('select '.self::COLUMNS." from events partition ({$partition}) force index (primary) where site_id = ? and time >= ? and time <= ?"
            .($this->middle === null ? '' : ' and visitor '.($half === 0 ? '<' : '>=').' ?').' order by visitor, time');
        $statement->execute([$this->site->id, $this->from->format('Y-m-d H:i:s.v'), $this->to->format('Y-m-d H:i:s.v'), ...($this->middle === null ? [] : [$this->middle])]);

        return $statement;
    }
}

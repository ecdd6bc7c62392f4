<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Site;
use DateTimeImmutable;
use DateTimeInterface;
use Illuminate\Support\Facades\DB;
use PDO;
use PDOStatement;

/**
 * The stored events of a site, visitor by visitor. Each month lies in the order of visitors already, so the months are read side by
 * side and merged: nothing is sorted, and no more than the events of one visitor are held.
 */
final class StoredLog
{
    private const COLUMNS = 'event_id, visitor, user, time, received, name, url, referrer, agent, props, device, browser, source, country';

    /** Whoever has more events is cut off by the audit anyway. */
    private const MOST_EVENTS = 30_000;

    private readonly string $from;
    private readonly string $to;

    public function __construct(private readonly Site $site, DateTimeInterface $from, DateTimeInterface $to)
    {
        $this->from = self::moment($from);
        $this->to = self::moment($to);
    }

    /**
     * @param int $half of the visitors: 0 or 1
     *
     * @return iterable<list<array<string, mixed>>> all events of one visitor after the other, in the form of an event log
     */
    public function visitors(int $half): iterable
    {
        // Connections of its own: this may be a process that was forked, and those of its parent are its parent's.
        $middle = $this->middle();
        if ($middle === null && $half === 1) {
            return;
        }
        $heads = [];
        foreach ($this->partitions() as $partition) {
            $rows = $this->select('select '.self::COLUMNS." from events partition ({$partition}) force index (primary) where site_id = ? and time >= ? and time <= ?"
                .($middle === null ? '' : ' and visitor '.($half === 0 ? '<' : '>=').' ?').' order by visitor, time', [$this->site->id, $this->from, $this->to, ...($middle === null ? [] : [$middle])]);
            $row = $rows->fetch(PDO::FETCH_NUM);
            if ($row !== false) {
                $heads[] = [$row, $rows];
            }
        }
        while ($heads !== []) {
            $visitor = $heads[0][0][1];
            foreach ($heads as [$row]) {
                $visitor = strcmp($row[1], $visitor) < 0 ? $row[1] : $visitor;
            }
            $events = [];
            foreach ($heads as $i => [$row, $rows]) {
                while ($row !== false && $row[1] === $visitor) {
                    if (count($events) < self::MOST_EVENTS) {
                        $events[] = self::event($row);
                    }
                    $row = $rows->fetch(PDO::FETCH_NUM);
                }
                if ($row === false) {
                    unset($heads[$i]);
                } else {
                    $heads[$i][0] = $row;
                }
            }
            $heads = array_values($heads);
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
        $props = $row[9] === '{}' ? [] : (array) json_decode((string) $row[9], true, 64);
        foreach (['device' => 10, 'browser' => 11, 'source' => 12, 'country' => 13] as $name => $place) {
            if ($row[$place] !== null) {
                $props[$name] = $row[$place];
            }
        }
        $row[3][10] = $row[4][10] = 'T';

        return ['id' => $row[0], 'visitor' => $row[1], 'user' => $row[2], 'time' => "{$row[3]}Z", 'received' => "{$row[4]}Z", 'name' => $row[5], 'url' => $row[6], 'referrer' => $row[7], 'agent' => $row[8], 'props' => $props];
    }

    /** About as many visitors come before it as after it, in the largest month; null where there are few. */
    private function middle(): ?string
    {
        $largest = null;
        foreach ($this->partitions() as $partition) {
            $rows = (int) DB::table('information_schema.partitions')->where('table_schema', DB::connection()->getDatabaseName())->where('table_name', 'events')->where('partition_name', $partition)->value('table_rows');
            $largest = $largest === null || $rows > $largest[1] ? [$partition, $rows] : $largest;
        }
        if ($largest === null || $largest[1] < 20_000) {
            return null;
        }
        // An index dive for each of a few places in the range of ids is quicker than to count half of the rows.
        $ids = array_map(static fn (object $row): string => $row->visitor, DB::select("select visitor from (
            select visitor from events partition ({$largest[0]}) where site_id = ? order by visitor limit 1 offset ".intdiv($largest[1], 2).') middle', [$this->site->id]));

        return $ids[0] ?? null;
    }

    /** @return list<string> those that events between both moments may lie in */
    private function partitions(): array
    {
        $months = DB::table('information_schema.partitions')->where('table_schema', DB::connection()->getDatabaseName())->where('table_name', 'events')
            ->whereNotNull('partition_name')->orderBy('partition_ordinal_position')->pluck('partition_name')->all();
        [$first, $last] = array_map(static fn (string $moment): string => 'm'.str_replace('-', '_', substr($moment, 0, 7)), [$this->from, $this->to]);

        $found = [];
        $before = '';
        foreach (array_map(strval(...), $months) as $month) {
            // Each holds what is older than its own end, so the first holds all that came before it, too.
            if (($month === 'later' || $month >= $first) && $before < $last) {
                $found[] = $month;
            }
            $before = $month;
        }

        return $found;
    }

    /** @param list<mixed> $values */
    private function select(string $query, array $values): PDOStatement
    {
        /** @var array{unix_socket: string, host: string, port: string, database: string, username: string, password: string} $of */
        $of = config('database.connections.mariadb');
        $where = $of['unix_socket'] !== '' ? "unix_socket={$of['unix_socket']}" : "host={$of['host']};port={$of['port']}";
        $connection = new PDO("mysql:{$where};dbname={$of['database']};charset=utf8mb4", $of['username'], $of['password'], [
            PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION, PDO::MYSQL_ATTR_USE_BUFFERED_QUERY => false, PDO::ATTR_EMULATE_PREPARES => true, PDO::ATTR_STRINGIFY_FETCHES => true,
            PDO::MYSQL_ATTR_INIT_COMMAND => "set time_zone = '+00:00', net_write_timeout = 3600",
        ]);
        $statement = $connection->prepare($query);
        $statement->execute($values);

        return $statement;
    }

    private static function moment(DateTimeInterface $at): string
    {
        return DateTimeImmutable::createFromInterface($at)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d H:i:s.v');
    }
}

<?php

namespace App\ReadModel;

use DateTimeImmutable;
use DateTimeZone;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Events\LogEvent;

/** Reads stored events of whole visitors. */
final class StoredEvents
{
    private const COLUMNS = 'event_id, visitor, user, time, received, place, name, url, referrer, agent, props, page, experiment, variant, device, browser, source, country, configuration';

    /**
     * @param list<string> $visitors at most some hundreds
     *
     * @return array<string, list<object>> visitor, with a mark before it => rows, in the order of time
     */
    public static function rows(int $site, array $visitors): array
    {
        $found = array_fill_keys(array_map(static fn (string $visitor): string => "#{$visitor}", $visitors), []);
        foreach (self::parts($site, $visitors) as [$part, $most]) {
            $places = rtrim(str_repeat('?,', count($part)), ',');
            foreach (DB::select('select '.self::COLUMNS." from events force index (primary) where site_id = ? and visitor in ({$places}) order by visitor, time limit {$most}", [$site, ...$part]) as $row) {
                $found["#{$row->visitor}"][] = $row;
            }
        }

        return array_map(self::inOrder(...), $found);
    }

    /**
     * @param list<string> $ids of one visitor's events
     *
     * @return list<object> rows, in no order
     */
    public static function byIds(int $site, string $visitor, array $ids): array
    {
        $places = rtrim(str_repeat('?,', count($ids)), ',');

        return DB::select('select '.implode(', ', array_map(static fn (string $column): string => 'e.'.trim($column), explode(',', self::COLUMNS)))." from event_ids i
            join events e on e.site_id = i.site_id and e.visitor = i.visitor and e.time = i.time and e.event_id = i.event_id
            where i.site_id = ? and i.visitor = ? and i.event_id in ({$places})", [$site, $visitor, ...$ids]);
    }

    /**
     * A visitor's events around a moment: so many before and after it that a visit is among them, and no more.
     *
     * @return list<object> rows, in the order of time
     */
    public static function around(int $site, string $visitor, string $time): array
    {
        $query = static fn (string $where, string $order, int $most): array => DB::select(
            'select '.self::COLUMNS." from events force index (primary) where site_id = ? and visitor = ? and time {$where} ? order by time {$order} limit {$most}",
            [$site, $visitor, $time],
        );

        return self::inOrder([...$query('<=', 'desc', 1000), ...$query('>', 'asc', 200)]);
    }

    /** The row of an event, by its id: from the ledger of ids, which forgets it after some weeks, or with the help of its visitor. */
    public static function find(int $site, string $id, ?string $visitor): ?object
    {
        $entry = DB::table('event_ids')->where('site_id', $site)->where('event_id', $id)->first();
        $columns = self::COLUMNS.', clock_shift';
        if ($entry !== null) {
            return DB::selectOne("select {$columns} from events where site_id = ? and visitor = ? and time = ? and event_id = ?", [$site, $entry->visitor, $entry->time, $id]);
        }

        return $visitor === null ? null : DB::selectOne("select {$columns} from events where site_id = ? and visitor = ? and event_id = ? limit 1", [$site, $visitor, $id]);
    }

    /** @return list<object> rows of a user, whichever visitors they belong to, in the order of time */
    public static function ofUser(int $site, string $user): array
    {
        return self::inOrder(DB::select('select '.self::COLUMNS.' from events force index (events_users) where site_id = ? and user = ? order by time limit '.VisitorLog::MOST_EVENTS, [$site, $user]));
    }

    public static function event(object $row): LogEvent
    {
        static $utc = new DateTimeZone('UTC');

        return new LogEvent(
            $row->event_id,
            $row->visitor,
            new DateTimeImmutable($row->time, $utc),
            $row->name,
            $row->url,
            $row->props === '{}' ? [] : (array) json_decode($row->props, true),
            $row->referrer,
            $row->agent,
            $row->user,
        );
    }

    /**
     * What has the same time stays as it came: by receipt, then by its place in the beacon.
     *
     * @param list<object> $rows
     *
     * @return list<object>
     */
    private static function inOrder(array $rows): array
    {
        usort($rows, static fn (object $a, object $b): int => strcmp($a->time, $b->time) ?: strcmp($a->received, $b->received) ?: $a->place <=> $b->place ?: strcmp($a->event_id, $b->event_id));

        return $rows;
    }

    /**
     * Splits visitors so that no part reads more than a bounded number of rows.
     *
     * @param list<string> $visitors
     *
     * @return iterable<array{list<string>, int}> visitors, and how many rows to read at most
     */
    private static function parts(int $site, array $visitors): iterable
    {
        $places = rtrim(str_repeat('?,', count($visitors)), ',');
        $large = $visitors === [] ? [] : array_column(DB::select("select visitor from visitors where site_id = ? and visitor in ({$places}) and events > 1000", [$site, ...$visitors]), 'visitor');
        $small = array_values(array_diff($visitors, $large));
        foreach (array_chunk($small, 500) as $part) {
            yield [$part, 1000 * count($part)];
        }
        foreach ($large as $visitor) {
            yield [[$visitor], VisitorLog::MOST_EVENTS];
        }
    }
}

<?php

namespace App\Measures;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\LogEvent;

/** Reads the stored events of visitors, one visitor after the other. */
final class VisitorEvents
{
    private const COLUMNS = ['event_id', 'visitor', 'user', 'time', 'name', 'url', 'referrer', 'agent', 'props'];

    /**
     * @param list<string>|null $visitors those; null for all
     *
     * @return \Generator<string, list<LogEvent>> visitor => all of their events since then, in the order of time
     */
    public static function of(Site $site, ?array $visitors, ?CarbonImmutable $since = null): \Generator
    {
        foreach ($visitors === null ? [null] : array_chunk($visitors, 500) as $part) {
            $events = [];
            $current = null;
            foreach (self::query($site, $part, $since)->cursor() as $row) {
                if ($row->visitor !== $current) {
                    if ($current !== null) {
                        yield (string) $current => $events;
                    }
                    [$current, $events] = [$row->visitor, []];
                }
                $events[] = self::event($row);
            }
            if ($current !== null) {
                yield (string) $current => $events;
            }
        }
    }

    public static function event(object $row): LogEvent
    {
        return new LogEvent(
            $row->event_id,
            $row->visitor,
            CarbonImmutable::parse($row->time, 'UTC'),
            $row->name,
            $row->url,
            $row->props === '{}' ? [] : (array) json_decode($row->props, true),
            $row->referrer,
            $row->agent,
            $row->user,
        );
    }

    /** @param list<string>|null $visitors */
    private static function query(Site $site, ?array $visitors, ?CarbonImmutable $since): Builder
    {
        return DB::table('events')->forceIndex('events_visitors')->where('site_id', $site->id)
            ->when($visitors !== null, static fn (Builder $q) => $q->whereIn('visitor', $visitors))
            ->when($since !== null, static fn (Builder $q) => $q->where('time', '>=', $since?->format('Y-m-d H:i:s.v')))
            ->orderBy('visitor')->orderBy('time')->orderBy('id')->select(self::COLUMNS);
    }
}

<?php

namespace App\Storage;

use App\Collector\EventRow;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Pages\PageKey;
use Pellix\Core\Segments\Segments;

/**
 * Takes the events of `events_before`, the one table that they were kept in until now, over into those by month. Goes on
 * where it was interrupted.
 */
final class EventUpgrade
{
    private const AT_ONCE = 1000;

    public static function run(): void
    {
        $first = DB::table('events_before')->min('time');
        $now = CarbonImmutable::now('UTC');
        (new EventMonths())->prepare($first === null ? $now : CarbonImmutable::parse($first, 'UTC'), $now);
        $after = 0;
        do {
            $rows = DB::table('events_before')->where('id', '>', $after)->orderBy('id')->limit(self::AT_ONCE)->get();
            if ($rows->isNotEmpty()) {
                $after = (int) $rows->last()->id;
                DB::transaction(static function () use ($rows): void {
                    DB::table('event_ids')->insertOrIgnore($rows->map(EventRow::ledger(...))->all());
                    DB::table('events')->insertOrIgnore($rows->map(self::row(...))->all());
                });
            }
        } while ($rows->isNotEmpty());
    }

    /** @return array<string, mixed> */
    private static function row(object $before): array
    {
        $props = (array) json_decode($before->props, true);
        $segments = Segments::of($props, in_array($before->agent, ['', 'server'], true) ? null : $before->agent);

        return [
            'site_id' => $before->site_id, 'visitor' => $before->visitor, 'time' => $before->time, 'event_id' => $before->event_id, 'received' => $before->received,
            // They came in this order; within a millisecond that is all that is known.
            'place' => $before->id % 256, 'clock_shift' => $before->clock_shift, 'name' => $before->name, 'url' => $before->url, 'page' => PageKey::of($before->url)->id,
            'referrer' => $before->referrer, 'agent' => $before->agent, 'user' => $before->user, 'unit' => $before->visitor, 'configuration' => null,
            'experiment' => $before->experiment, 'variant' => $before->variant,
            'device' => $segments->device, 'browser' => $segments->browser, 'source' => $segments->source, 'country' => $segments->country, 'props' => $before->props,
        ];
    }
}

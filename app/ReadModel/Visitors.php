<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/** Who was seen when; and how many visitors had their last page view in which hour, so that those of the last n hours are a sum. */
final class Visitors
{
    /** @param array<string, array{first: string, last: string, view: string|null, events: int}> $seen visitor, with a mark before it => what is new */
    public static function write(int $site, array $seen): void
    {
        ksort($seen, SORT_STRING);
        foreach (array_chunk($seen, 500, true) as $part) {
            $visitors = array_map(static fn (string $marked): string => substr($marked, 1), array_keys($part));
            $before = DB::table('visitors')->where('site_id', $site)->whereIn('visitor', $visitors)->whereNotNull('last_view')->pluck('last_view', 'visitor')->all();
            $hours = $rows = [];
            foreach ($part as $marked => $new) {
                $visitor = substr($marked, 1);
                self::move($hours, $before[$visitor] ?? null, $new['view']);
                $rows[] = ['site_id' => $site, 'visitor' => $visitor, 'first' => $new['first'], 'last' => $new['last'], 'last_view' => $new['view'], 'events' => $new['events']];
            }
            Upserts::write('visitors', $rows, ['first' => 'min', 'last' => 'max', 'last_view' => 'max', 'events' => '+']);
            ksort($hours);
            Upserts::write('view_hours', array_map(static fn (string $hour, int $n): array => ['site_id' => $site, 'hour' => $hour, 'visitors' => $n], array_keys($hours), $hours), ['visitors' => '+']);
        }
    }

    /** @param array<string, int> $hours */
    private static function move(array &$hours, ?string $before, ?string $now): void
    {
        if ($now === null || ($before !== null && $before >= $now)) {
            return;
        }
        if ($before !== null) {
            $hour = substr($before, 0, 13).':00:00';
            $hours[$hour] = ($hours[$hour] ?? 0) - 1;
        }
        $hour = substr($now, 0, 13).':00:00';
        $hours[$hour] = ($hours[$hour] ?? 0) + 1;
    }
}

<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;

/**
 * Who was seen when; how many visitors had their last page view in which hour, so that those of the last n hours are a sum; and
 * of how many which published file is the newest that they met.
 */
final class Visitors
{
    /** @param array<string, array{first: string, last: string, view: string|null, events: int, met: array{int, string}|null}> $seen visitor, with a mark before it => what is new; `met`: number of a published file, and when */
    public static function write(int $site, array $seen): void
    {
        ksort($seen, SORT_STRING);
        foreach (array_chunk($seen, 500, true) as $part) {
            $visitors = array_map(static fn (string $marked): string => substr($marked, 1), array_keys($part));
            $before = DB::table('visitors')->where('site_id', $site)->whereIn('visitor', $visitors)->whereNotNull('last_view')->pluck('last_view', 'visitor')->all();
            $met = DB::table('visitors')->where('site_id', $site)->whereIn('visitor', $visitors)->whereNotNull('configuration')->pluck('configuration', 'visitor')->all();
            $hours = $rows = $files = [];
            foreach ($part as $marked => $new) {
                $visitor = substr($marked, 1);
                self::move($hours, $before[$visitor] ?? null, $new['view']);
                self::meet($files, $met[$visitor] ?? null, $new['met']);
                $rows[] = ['site_id' => $site, 'visitor' => $visitor, 'first' => $new['first'], 'last' => $new['last'], 'last_view' => $new['view'], 'events' => $new['events'], 'configuration' => $new['met'][0] ?? null];
            }
            Upserts::write('visitors', $rows, ['first' => 'min', 'last' => 'max', 'last_view' => 'max', 'events' => '+', 'configuration' => 'max']);
            ksort($hours);
            Upserts::write('view_hours', array_map(static fn (string $hour, int $n): array => ['site_id' => $site, 'hour' => $hour, 'visitors' => $n], array_keys($hours), $hours), ['visitors' => '+']);
            ksort($files);
            Upserts::write('configurations_met', array_map(static fn (int $number, array $one): array => ['site_id' => $site, 'number' => $number, 'visitors' => $one[0], 'first' => $one[1], 'last' => $one[2]], array_keys($files), $files), ['visitors' => '+', 'first' => 'min', 'last' => 'max']);
        }
    }

    /**
     * @param array<int, array{int, string, string}> $files number => visitors, first and last time
     * @param array{int, string}|null                $now
     */
    private static function meet(array &$files, int|string|null $before, ?array $now): void
    {
        if ($now === null || ($before !== null && (int) $before >= $now[0])) {
            return;
        }
        if ($before !== null) {
            // Its row is there, and its times stay.
            $files[(int) $before] ??= [0, '9999-12-31 00:00:00', '1000-01-01 00:00:00'];
            $files[(int) $before][0]--;
        }
        $known = $files[$now[0]] ?? [0, $now[1], $now[1]];
        $files[$now[0]] = [$known[0] + 1, min($known[1], $now[1]), max($known[2], $now[1])];
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

<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Collector\Apart;
use App\Measures\Plan;
use App\Models\LoupeLink;
use App\ReadModel\StoredEvents;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\InvalidInput;

/** What arrived of one previewing visitor: what the tracking plan thinks of each event, and which goals were reached. */
final class Heard
{
    /** The newest so many are looked at. */
    private const MOST = 300;

    /** @return array{events: list<array<string, mixed>>, rejected: list<array<string, mixed>>, goals: list<array<string, mixed>>} */
    public static function of(LoupeLink $link, string $visitor): array
    {
        $rows = array_reverse(DB::table(Apart::Preview->table())->where('loupe_link_id', $link->id)->where('visitor', $visitor)->whereNull('rejected')->orderByDesc('time')->orderByDesc('id')->limit(self::MOST)->get()->all());
        $all = array_map(StoredEvents::event(...), $rows);
        $plan = Plan::of($link->site);
        $sessions = Sessions::of($all, $link->site->session_minutes);
        $goals = [];
        foreach ($link->site->goals()->orderBy('name')->get() as $goal) {
            try {
                $hits = $all === [] ? [] : HitFinder::find($goal->declared(), $all, $sessions);
                $goals[] = ['key' => $goal->key, 'name' => $goal->name, 'hits' => array_map(static fn ($hit): array => $hit->events, $hits)];
            } catch (InvalidInput) {
                // Its own page says that it cannot be read.
            }
        }

        return [
            'events' => array_map(static fn (object $row): array => ['id' => $row->event_id, 'times' => (int) $row->times, ...$plan->judge($row->name, (array) json_decode($row->props, true))], $rows),
            // A rejected one names no visitor that could be relied on: those of the link.
            'rejected' => DB::table(Apart::Preview->table())->where('loupe_link_id', $link->id)->whereNotNull('rejected')->orderByDesc('id')->limit(20)->get(['rejected', 'message', 'props'])->map(static fn (object $row): array => ['reason' => $row->rejected, 'message' => $row->message, 'sample' => mb_strcut((string) $row->props, 0, 300)])->all(),
            'goals' => $goals,
        ];
    }
}

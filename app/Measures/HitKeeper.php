<?php

namespace App\Measures;

use App\Models\Goal;
use App\Models\Site;
use Illuminate\Contracts\Cache\LockProvider;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Goals\Goal as Declared;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;

/**
 * Keeps every hit of every goal beside the events. When events arrive, the hits of the visitors they belong to are found
 * anew from all of their events: so a late event finds its place, and the result is that of counting the whole log again.
 */
final readonly class HitKeeper
{
    private const LOCK_SECONDS = 300;

    private const ROWS = 500;

    public function __construct(private Repository $cache)
    {
    }

    /** Takes in what has arrived since the last time. */
    public function catchUp(Site $site): void
    {
        $newest = (int) DB::table('events')->where('site_id', $site->id)->max('id');
        if ($newest <= self::progress($site)) {
            return;
        }
        $this->alone($site, function () use ($site): void {
            // Ids are given before a transaction ends, so that a smaller one may appear later: the newest few seconds are looked at again.
            $from = self::progress($site);
            $newest = (int) DB::table('events')->where('site_id', $site->id)->max('id');
            $visitors = DB::table('events')->where('site_id', $site->id)->where('id', '>', max(0, $from - 200))->where('id', '<=', $newest)->distinct()->pluck('visitor')->all();
            $goals = $site->goals()->get();
            foreach (array_chunk($visitors, 500) as $part) {
                DB::transaction(function () use ($site, $part, $goals): void {
                    DB::table('goal_hits')->where('site_id', $site->id)->whereIn('visitor', $part)->delete();
                    $this->find($site, $goals->all(), array_map(strval(...), $part));
                });
            }
            DB::table('hit_progress')->upsert([['site_id' => $site->id, 'event_id' => $newest]], ['site_id'], ['event_id']);
        });
    }

    /** Finds all hits of one goal anew, from the whole log. */
    public function recount(Site $site, Goal $goal): void
    {
        $this->alone($site, fn () => DB::transaction(function () use ($site, $goal): void {
            DB::table('goal_hits')->where('goal_id', $goal->id)->delete();
            $names = $goal->declared()->events();
            $visitors = DB::table('events')->where('site_id', $site->id)->whereIn('name', $names)->distinct()->pluck('visitor')->all();
            $this->find($site, [$goal], array_map(strval(...), $visitors));
        }));
    }

    /**
     * @param array<Goal>  $goals
     * @param list<string> $visitors
     */
    private function find(Site $site, array $goals, array $visitors): void
    {
        $rows = [];
        $declared = array_map(static fn (Goal $goal): Declared => $goal->declared(), $goals);
        foreach (VisitorEvents::of($site, $visitors) as $events) {
            $sessions = Sessions::of($events, $site->session_minutes);
            foreach ($declared as $i => $goal) {
                foreach (HitFinder::find($goal, $events, $sessions) as $hit) {
                    $rows[] = self::row($site, $goals[$i], $hit);
                }
            }
            if (count($rows) >= self::ROWS) {
                DB::table('goal_hits')->insert($rows);
                $rows = [];
            }
        }
        DB::table('goal_hits')->insert($rows);
    }

    /** @return array<string, mixed> */
    private static function row(Site $site, Goal $goal, Hit $hit): array
    {
        return [
            'site_id' => $site->id, 'goal_id' => $goal->id, 'visitor' => $hit->visitor, 'session' => $hit->session, 'time' => $hit->time->format('Y-m-d H:i:s.v'),
            'url' => $hit->url, 'events' => json_encode($hit->events), 'value' => $hit->value, 'currency' => $hit->currency === null ? null : mb_strcut($hit->currency, 0, 3),
            'order_id' => $hit->order === null ? null : mb_strcut($hit->order, 0, 200, 'UTF-8'),
        ];
    }

    private static function progress(Site $site): int
    {
        return (int) DB::table('hit_progress')->where('site_id', $site->id)->value('event_id');
    }

    /** One at a time: two that find the same hits would keep them twice. */
    private function alone(Site $site, callable $work): void
    {
        $store = $this->cache->getStore();
        $store instanceof LockProvider ? $store->lock("hits:{$site->id}", self::LOCK_SECONDS)->block(self::LOCK_SECONDS, $work) : $work();
    }
}

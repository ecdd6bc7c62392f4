<?php

namespace App\Measures;

use App\Models\Goal;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** How often a goal was reached in the last seven days, to the hour: counted as the goal says, from what the workers keep by the hour. */
final class RecentHits
{
    private const DAYS = 7;

    /** @return array{hits: int, visitors: int, last: CarbonImmutable|null} */
    public static function of(Goal $goal): array
    {
        return self::ofSite($goal->site_id)[$goal->id] ?? ['hits' => 0, 'visitors' => 0, 'last' => null];
    }

    /** @return array<int, array{hits: int, visitors: int, last: CarbonImmutable|null}> goal => what is known of it; of those that are counted */
    public static function ofSite(int $site): array
    {
        $since = self::since(CarbonImmutable::now('UTC'));
        $counts = DB::table('counts')->join('goals', 'goals.id', 'subject_id')
            ->where('counts.site_id', $site)->where('counts.kind', 'goal')->where('counts.state', 'current')
            ->selectRaw('counts.id, goals.id as goal, json_value(goals.definition, "$.count") as mode')->get();
        // Summed before definitions are joined: texts in what is grouped would be sorted on disk.
        $sums = DB::table('goal_hours')->whereIn('count_id', $counts->pluck('id'))->where('hour', '>=', $since->format('Y-m-d H:i:s'))->groupBy('count_id')
            ->selectRaw('count_id, sum(hits) as hits, sum(sessions) as sessions, sum(visitors) as visitors')->get()->keyBy('count_id');
        $recent = [];
        foreach ($counts as $one) {
            $sum = $sums[$one->id] ?? (object) ['hits' => 0, 'sessions' => 0, 'visitors' => 0];
            $last = (int) $sum->hits === 0 ? null : DB::table('goal_hits')->where('count_id', $one->id)->where('counts', 1)->orderByDesc('time')->value('time');
            $recent[(int) $one->goal] = [
                'hits' => (int) (['visitor' => $sum->visitors, 'session' => $sum->sessions][$one->mode] ?? $sum->hits),
                'visitors' => (int) $sum->visitors,
                'last' => $last === null ? null : CarbonImmutable::parse($last, 'UTC'),
            ];
        }

        return $recent;
    }

    public static function since(CarbonImmutable $now): CarbonImmutable
    {
        return $now->subDays(self::DAYS)->startOfHour();
    }
}

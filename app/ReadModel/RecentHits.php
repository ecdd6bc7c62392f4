<?php

namespace App\ReadModel;

use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\Figures;

/** How often each goal was reached in the last seven days, to the hour: put together by the workers, from what they keep by the hour. */
final class RecentHits
{
    private const DAYS = 7;

    /** Of a goal that was not reached, or is not counted yet. */
    public const NONE = ['hits' => 0, 'visitors' => 0, 'last' => null];

    /** @return array<int, array{hits: int, visitors: int, last: CarbonImmutable|null}> goal => what is known of it; of those that are counted */
    public static function ofSite(int $site): array
    {
        return array_map(
            static fn (array $kept): array => [...$kept, 'last' => $kept['last'] === null ? null : CarbonImmutable::parse($kept['last'], 'UTC')],
            array_column(Readings::one($site, 'recent', '')['goals'] ?? [], 'recent', 'goal'),
        );
    }

    /**
     * Sums the hours up anew; the last hit is looked for of those goals alone whose figures have changed.
     *
     * @param list<int>|null $changed counts that have changed; null for all
     */
    public static function refresh(int $site, ?array $changed): void
    {
        $since = self::since();
        $kept = Readings::one($site, 'recent', '');
        $lasts = $changed === null ? [] : array_column($kept['goals'] ?? [], 'recent', 'count');
        $counts = DB::table('counts')->join('goals', 'goals.id', 'subject_id')
            ->where('counts.site_id', $site)->where('counts.kind', 'goal')->where('counts.state', 'current')
            ->selectRaw('counts.id, goals.id as goal, json_value(goals.definition, "$.count") as mode')->get();
        // Summed before definitions are joined: texts in what is grouped would be sorted on disk.
        $sums = DB::table('goal_hours')->whereIn('count_id', $counts->pluck('id'))->where('hour', '>=', $since)->groupBy('count_id')
            ->selectRaw('count_id, sum(hits) as hits, sum(sessions) as sessions, sum(visitors) as visitors')->get()->keyBy('count_id');
        $goals = [];
        foreach ($counts as $one) {
            $recent = self::NONE;
            $sum = $sums[$one->id] ?? null;
            if ($sum !== null && (int) $sum->hits > 0) {
                $isKnown = isset($lasts[$one->id]['last']) && ! in_array((int) $one->id, $changed, true);
                $recent = [
                    'hits' => Figures::countedOf((string) $one->mode, (int) $sum->hits, (int) $sum->sessions, (int) $sum->visitors),
                    'visitors' => (int) $sum->visitors,
                    'last' => $isKnown ? $lasts[$one->id]['last'] : DB::table('goal_hits')->where('count_id', $one->id)->where('counts', 1)->orderByDesc('time')->value('time'),
                ];
            }
            $goals[] = ['goal' => (int) $one->goal, 'count' => (int) $one->id, 'recent' => $recent];
        }
        Readings::keep($site, 'recent', '', ['since' => $since, 'goals' => $goals]);
    }

    /** With each hour that ends, another one is no more among the last seven days. */
    public static function moveOn(int $site): void
    {
        $kept = Readings::one($site, 'recent', '');
        if ($kept !== null && $kept['since'] !== self::since()) {
            self::refresh($site, []);
        }
    }

    private static function since(): string
    {
        return CarbonImmutable::now('UTC')->subDays(self::DAYS)->startOfHour()->format('Y-m-d H:i:s');
    }
}

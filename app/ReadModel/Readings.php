<?php

namespace App\ReadModel;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** What requests read: the figures of each experiment and goal, put together by the workers whenever they have changed. */
final class Readings
{
    /**
     * Puts experiments together anew.
     *
     * @param list<int>|null $changed counts that have changed; null for everything
     */
    public function refresh(Site $site, ?array $changed): void
    {
        if ($changed === []) {
            return;
        }
        RecentHits::refresh($site->id, $changed);
        $of = Definitions::of($site, $changed === null);
        $wanted = [];
        $seen = [];
        foreach ($of->experiments as $id => $count) {
            // While an experiment is counted anew, the old figures stand.
            $isFirst = ! isset($seen[$count->experimentId]);
            $seen[$count->experimentId] = true;
            $goals = array_map(static fn (GoalCount $goal): int => $goal->id, $count->goals);
            if ($isFirst && ($changed === null || in_array($id, $changed, true) || array_intersect($goals, $changed) !== [])) {
                $wanted[] = $count;
            }
        }
        if ($wanted === []) {
            return;
        }
        $begins = array_filter(array_map(static fn (ExperimentCount $count): ?\DateTimeImmutable => $count->ran->begin(), $wanted));
        $hours = new SiteHours($site->id, $begins === [] ? null : min($begins));
        foreach ($wanted as $count) {
            try {
                self::keep($site->id, 'experiment', (string) $count->experimentId, ExperimentReading::of($count, $of, $hours));
            } catch (\Throwable $e) {
                // Its figures stand as they were; those of the others go on.
                report($e);
            }
        }
    }

    /** @param array<mixed> $content */
    public static function keep(int $site, string $kind, string $subject, array $content): void
    {
        DB::table('readings')->upsert([[
            'site_id' => $site, 'kind' => $kind, 'subject' => $subject, 'read_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'),
            'content' => json_encode($content, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION),
        ]], ['site_id', 'kind', 'subject'], ['content', 'read_at']);
    }

    /** @return array<int|string, array<mixed>> subject, a number where it reads like one => content */
    public static function all(int $site, string $kind): array
    {
        return DB::table('readings')->where('site_id', $site)->where('kind', $kind)->pluck('content', 'subject')->map(static fn (string $json): array => json_decode($json, true))->all();
    }

    /** @return array<mixed>|null null where nothing was put together yet */
    public static function one(int $site, string $kind, string $subject): ?array
    {
        $json = DB::table('readings')->where('site_id', $site)->where('kind', $kind)->where('subject', $subject)->value('content');

        return $json === null ? null : json_decode($json, true);
    }
}

<?php

namespace App\Measures;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\Totals;

/** Tries a goal on what is known, before it counts: which pages it matches and narrowly misses, and what it would have counted. */
final readonly class GoalTrial
{
    private const DAYS = [7, 28];
    private const PAGES_NAMED = 12;

    /**
     * @param callable(int, int): bool $progress told how many of how many visitors are done; false stops
     *
     * @return array<string, mixed>|null null where it was stopped
     */
    public function of(Site $site, Goal $goal, CarbonImmutable $now, callable $progress): ?array
    {
        $known = KnownPages::of($site, array_values(array_filter(array_map(static fn ($step) => $step->pages, $goal->steps))));
        $counted = $this->counts($site, $goal, $now, $progress);
        if ($counted === null) {
            return null;
        }
        [$counts, $pages, $partial] = $counted;

        return [
            ...$known->toArray(),
            'counts' => $counts,
            'pages' => $pages,
            'partial' => $partial,
            'questions' => self::questions($goal, $known->total, $known->known, $counts),
        ];
    }

    /**
     * @param callable(int, int): bool $progress
     *
     * @return array{list<array<string, mixed>>, list<array{url: string, hits: int}>, bool}|null
     */
    private function counts(Site $site, Goal $goal, CarbonImmutable $now, callable $progress): ?array
    {
        // To the hour, as the goal list counts what is recent.
        $since = $now->subDays(max(self::DAYS))->startOfHour();
        $hits = [];
        $partial = RecentVisitors::each($site, $since, $progress, static function (VisitorLog $log) use ($goal, $since, &$hits): void {
            array_push($hits, ...array_filter($log->hits($goal), static fn (Hit $hit): bool => $hit->time >= $since));
        });
        if ($partial === null) {
            return null;
        }
        $counts = array_map(function (int $days) use ($site, $goal, $hits, $now): array {
            $from = $now->subDays($days)->startOfHour();
            $totals = Totals::of($goal, array_values(array_filter($hits, static fn (Hit $hit): bool => $hit->time >= $from)));
            $everybody = (int) DB::table('view_hours')->where('site_id', $site->id)->where('hour', '>=', $from->format('Y-m-d H:i:s'))->sum('visitors');

            return ['days' => $days, ...$totals, 'rate' => $everybody === 0 ? null : $totals['visitors'] / $everybody, 'everybody' => $everybody];
        }, self::DAYS);
        $pages = array_count_values(array_map(static fn (Hit $hit): string => (string) preg_replace('/[?#].*/s', '', $hit->url), Totals::onceAnOrder($hits)));
        arsort($pages);
        $pages = array_slice($pages, 0, self::PAGES_NAMED, true);

        return [$counts, array_map(static fn (string $url, int $n): array => ['url' => $url, 'hits' => $n], array_map(strval(...), array_keys($pages)), $pages), $partial];
    }

    /**
     * @param list<array<string, mixed>> $counts
     *
     * @return list<string>
     */
    private static function questions(Goal $goal, int $matching, int $known, array $counts): array
    {
        $questions = [];
        if ($goal->kind === 'page' && $known > 1 && $matching === $known) {
            $questions[] = 'The rule matches every known page. Is every page view meant to count?';
        }
        if ($goal->kind === 'page' && $known > 0 && $matching === 0) {
            $questions[] = 'The rule matches no known page. Look at the near misses, or add the page to the inventory.';
        }
        if (end($counts)['hits'] === 0) {
            $questions[] = 'It would not have counted once in 28 days. Nothing proves yet that it can.';
        }

        return $questions;
    }
}

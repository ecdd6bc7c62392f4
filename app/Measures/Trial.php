<?php

namespace App\Measures;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\NearMiss;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Totals;

/** Tries a goal on what is known, before it counts: which pages it matches and narrowly misses, and what it would have counted. */
final readonly class Trial
{
    private const DAYS = [7, 28];

    private const PAGES_NAMED = 12;

    private const MOST_VISITORS = 30_000;

    /** @return array<string, mixed> */
    public function of(Site $site, Goal $goal, CarbonImmutable $now): array
    {
        [$matching, $near, $known] = $this->addresses($site, $goal);
        [$counts, $pages, $partial] = $this->counts($site, $goal, $now);

        return [
            'matching' => array_slice($matching, 0, self::PAGES_NAMED),
            'matching_total' => count($matching),
            'near' => array_slice($near, 0, self::PAGES_NAMED),
            'known' => $known,
            'counts' => $counts,
            'pages' => $pages,
            'partial' => $partial,
            'questions' => self::questions($goal, count($matching), $known, $counts),
        ];
    }

    /** @return array{list<string>, list<array{url: string, why: string}>, int} */
    private function addresses(Site $site, Goal $goal): array
    {
        $rules = array_values(array_filter(array_map(static fn ($step) => $step->pages, $goal->steps)));
        $matching = $near = [];
        $known = 0;
        foreach ($rules === [] ? [] : $site->pages()->orderBy('url')->pluck('url') as $url) {
            $known++;
            foreach ($rules as $rule) {
                if ($rule->matches($url)) {
                    $matching[] = $url;
                    continue 2;
                }
            }
            $why = NearMiss::why($rules[0]->rule, $url);
            if ($why !== null) {
                $near[] = ['url' => $url, 'why' => $why];
            }
        }

        return [$matching, $near, $known];
    }

    /** @return array{list<array<string, mixed>>, list<array{url: string, hits: int}>, bool} */
    private function counts(Site $site, Goal $goal, CarbonImmutable $now): array
    {
        $since = $now->subDays(max(self::DAYS));
        $visitors = $this->candidates($site, $goal, $since);
        $partial = count($visitors) > self::MOST_VISITORS;
        $hits = [];
        foreach (VisitorEvents::of($site, array_slice($visitors, 0, self::MOST_VISITORS), $since) as $events) {
            array_push($hits, ...HitFinder::find($goal, $events, Sessions::of($events, $site->session_minutes)));
        }
        $counts = array_map(function (int $days) use ($site, $goal, $hits, $now): array {
            $from = $now->subDays($days);
            $within = array_values(array_filter($hits, static fn (Hit $hit): bool => $hit->time >= $from));
            $everybody = DB::table('events')->where('site_id', $site->id)->where('name', 'page_view')->where('time', '>=', $from->format('Y-m-d H:i:s.v'))->distinct()->count('visitor');
            $totals = Totals::of($goal, $within);

            return ['days' => $days, ...$totals, 'values' => (object) $totals['values'], 'rate' => $everybody === 0 ? null : $totals['visitors'] / $everybody, 'everybody' => $everybody];
        }, self::DAYS);
        $pages = array_count_values(array_map(static fn (Hit $hit): string => (string) preg_replace('/[?#].*/s', '', $hit->url), Totals::onceAnOrder($hits)));
        arsort($pages);
        $pages = array_slice($pages, 0, self::PAGES_NAMED, true);

        return [$counts, array_map(static fn (string $url, int $n): array => ['url' => $url, 'hits' => $n], array_keys($pages), $pages), $partial];
    }

    /**
     * The visitors who took the first step that is not optional: nobody else can have reached the goal.
     *
     * @return list<string>
     */
    private function candidates(Site $site, Goal $goal, CarbonImmutable $since): array
    {
        $step = $goal->steps[(int) array_search(false, $goal->optional, true)];
        $events = DB::table('events')->where('site_id', $site->id)->where('name', $step->event)->where('time', '>=', $since->format('Y-m-d H:i:s.v'));
        if ($step->kind === 'page' && $step->pages !== null) {
            $pages = DB::table('events')->forceIndex('events_pages')->where('site_id', $site->id)->where('name', $step->event)->groupBy('page')->selectRaw('page, min(id) as id');
            $urls = DB::query()->fromSub($pages, 'pages')->join('events', 'events.id', 'pages.id')->pluck('url', 'pages.page')->all();
            $events->whereIn('page', array_keys(array_filter($urls, $step->pages->matches(...))));
        }

        return $events->distinct()->limit(self::MOST_VISITORS + 1)->pluck('visitor')->map(strval(...))->all();
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

<?php

namespace App\Measures;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\SchemaJson;
use Pellix\Core\Events\TrackingPlan;

/** How much of each event came in the last 28 days, and how well it kept to the plan. */
final class EventVolumes
{
    private const DAYS = 28;

    /** The newest events of a name that are held against the plan. */
    private const JUDGED = 2000;

    /** @return list<array<string, mixed>> */
    public function all(Site $site): array
    {
        $since = CarbonImmutable::now('UTC')->subDays(self::DAYS)->format('Y-m-d H:i:s.v');
        $seen = DB::table('events')->forceIndex('events_pages')->where('site_id', $site->id)->where('time', '>=', $since)->groupBy('name')->selectRaw('name, count(*) as n, max(time) as last')->get()->keyBy('name');
        $planned = $site->eventDefinitions()->orderBy('name')->get()->keyBy('name');
        $names = $seen->keys()->merge($planned->keys())->unique()->sort()->values();

        return $names->map(fn (string $name): array => [
            'name' => $name,
            'planned' => $planned->has($name),
            'own' => in_array($name, TrackingPlan::OWN, true),
            'meaning' => $planned->get($name)->meaning ?? '',
            'count' => (int) ($seen->get($name)->n ?? 0),
            'last' => $seen->has($name) ? CarbonImmutable::parse($seen->get($name)->last, 'UTC') : null,
        ])->all();
    }

    /** @return array<string, mixed> */
    public function one(Site $site, string $name): array
    {
        $definition = $site->eventDefinitions()->where('name', $name)->first();
        $plan = Plan::of($site);
        $verdicts = ['conforms' => 0, 'lacks' => 0, 'wrong-type' => 0, 'unplanned' => 0];
        $first = null;
        $rows = DB::table('events')->where('site_id', $site->id)->where('name', $name)->orderByDesc('id')->limit(self::JUDGED)->get(['event_id', 'time', 'url', 'props']);
        foreach ($rows as $row) {
            $props = (array) json_decode($row->props, true);
            $judged = $plan->judge($name, $props);
            $verdicts[$judged['verdict']]++;
            if ($judged['mistakes'] !== []) {
                // The newest come first, so the last one that is found is the earliest.
                $first = ['id' => $row->event_id, 'time' => CarbonImmutable::parse($row->time, 'UTC'), 'url' => $row->url, 'props' => (object) $props, 'mistakes' => $judged['mistakes']];
            }
        }

        return [
            'name' => $name,
            'plan' => $definition === null ? null : [
                'meaning' => $definition->meaning, 'sent_from' => $definition->sent_from, 'schema' => SchemaJson::of($definition->schema),
                'examples' => array_map(static fn (array $example): object => (object) $example, $definition->examples),
            ],
            'days' => $this->days($site, $name),
            'judged' => $rows->count(),
            'verdicts' => $verdicts,
            'first_violation' => $first,
        ];
    }

    /** @return list<array{day: string, count: int}> in the site's time zone */
    private function days(Site $site, string $name): array
    {
        $today = CarbonImmutable::now($site->time_zone)->startOfDay();
        $since = $today->subDays(self::DAYS - 1);
        $hours = DB::table('events')->where('site_id', $site->id)->where('name', $name)->where('time', '>=', $since->utc()->format('Y-m-d H:i:s.v'))
            ->selectRaw("date_format(time, '%Y-%m-%d %H:00:00') as hour, count(*) as n")->groupBy('hour')->pluck('n', 'hour');
        $days = [];
        for ($day = $since; $day <= $today; $day = $day->addDay()) {
            $days[$day->format('Y-m-d')] = 0;
        }
        foreach ($hours as $hour => $n) {
            $day = CarbonImmutable::parse($hour, 'UTC')->setTimezone($site->time_zone)->format('Y-m-d');
            $days[$day] = ($days[$day] ?? 0) + (int) $n;
        }

        return array_map(static fn (string $day, int $n): array => ['day' => $day, 'count' => $n], array_keys($days), $days);
    }
}

<?php

namespace App\Measures;

use App\Models\EventDefinition;
use App\Models\Site;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\EventName;
use Pellix\Core\Events\SchemaJson;

/** How much of each event came in the last 28 days, and how well it kept to the plan. */
final class EventVolumes
{
    private const DAYS = 28;

    /** The newest events of a name that are held against the plan. */
    private const JUDGED = 2000;

    /** Visitors may send events of any name: so many are listed, those of which there are most. */
    private const LISTED = 500;

    /** @return list<array<string, mixed>> every event that is planned or was seen */
    public function all(Site $site): array
    {
        $seen = array_column(Readings::one($site->id, 'events', '') ?? $this->count($site), null, 'name');
        $planned = $site->eventDefinitions()->orderBy('name')->get()->keyBy('name');
        $names = array_unique([...array_map(strval(...), array_keys($seen)), ...$planned->keys()->map(strval(...))->all()]);
        sort($names, SORT_STRING);

        return array_map(static fn (string $name): array => [
            'name' => $name,
            'planned' => $planned->has($name),
            'own' => EventName::tryFrom($name) !== null,
            'meaning' => $planned->get($name)->meaning ?? '',
            'count' => (int) ($seen[$name]['n'] ?? 0),
            'last' => isset($seen[$name]) ? CarbonImmutable::parse($seen[$name]['last'], 'UTC') : null,
        ], $names);
    }

    /** Counts by the hours that the workers keep. */
    public function refresh(Site $site): void
    {
        Readings::keep($site->id, 'events', '', $this->count($site));
    }

    /** @return array<string, mixed> */
    public function one(Site $site, string $name): array
    {
        $definition = $site->eventDefinitions()->where('name', $name)->first();

        return [
            'name' => $name,
            'plan' => $definition === null ? null : [
                'meaning' => $definition->meaning, 'sent_from' => $definition->sent_from, 'schema' => SchemaJson::of($definition->schema),
                'examples' => array_map(static fn (mixed $example): object => (object) $example, array_values($definition->examples)),
            ],
            'days' => $this->days($site, $name),
            ...$this->kept($site, $name, $definition),
        ];
    }

    /** Holds the newest events of a name against the plan, and keeps the verdicts. */
    public function judge(Site $site, string $name): void
    {
        $plan = Plan::of($site);
        $verdicts = ['conforms' => 0, 'lacks' => 0, 'wrong-type' => 0, 'unplanned' => 0];
        $first = null;
        $judged = 0;
        foreach (DB::select('select event_id, time, url, props from events force index (events_names) where site_id = ? and name = ? order by received desc limit '.self::JUDGED, [$site->id, $name]) as $row) {
            $props = (array) json_decode($row->props, true);
            $found = $plan->judge($name, $props);
            $verdicts[$found['verdict']]++;
            $judged++;
            if ($found['mistakes'] !== []) {
                // The newest come first, so the last one that is found is the earliest.
                $first = ['id' => $row->event_id, 'time' => $row->time, 'url' => $row->url, 'props' => (object) $props, 'mistakes' => $found['mistakes']];
            }
        }
        Readings::keep($site->id, 'conformance', $name, ['judged' => $judged, 'verdicts' => $verdicts, 'first_violation' => $first]);
    }

    /** @return array<string, mixed> */
    private function kept(Site $site, string $name, ?EventDefinition $definition): array
    {
        $kept = $definition === null ? null : Readings::one($site->id, 'conformance', $name);
        if ($kept === null) {
            $judged = min(self::JUDGED, (int) DB::table('volumes')->where('site_id', $site->id)->where('by', 'event')->where('item', $name)->sum('n'));
            $verdict = EventName::tryFrom($name) !== null ? 'conforms' : 'unplanned';

            return ['judged' => $judged, 'verdicts' => [...['conforms' => 0, 'lacks' => 0, 'wrong-type' => 0, 'unplanned' => 0], $verdict => $judged], 'first_violation' => null];
        }
        if ($kept['first_violation'] !== null) {
            $kept['first_violation'] = [...$kept['first_violation'], 'time' => CarbonImmutable::parse($kept['first_violation']['time'], 'UTC'), 'props' => (object) $kept['first_violation']['props']];
        }

        return $kept;
    }

    /** @return list<array{name: string, n: int, last: string}> */
    private function count(Site $site): array
    {
        return DB::table('volumes')->where('site_id', $site->id)->where('by', 'event')->where('hour', '>=', CarbonImmutable::now('UTC')->subDays(self::DAYS)->format('Y-m-d H:00:00'))
            ->groupBy('item')->selectRaw('item as name, sum(n) as n, max(last) as last')->orderByRaw('sum(n) desc')->limit(self::LISTED)->get()
            ->map(static fn (object $row): array => ['name' => $row->name, 'n' => (int) $row->n, 'last' => $row->last])->all();
    }

    /** @return list<array{day: string, count: int}> in the site's time zone */
    private function days(Site $site, string $name): array
    {
        $today = CarbonImmutable::now($site->time_zone)->startOfDay();
        $since = $today->subDays(self::DAYS - 1);
        $days = [];
        for ($day = $since; $day <= $today; $day = $day->addDay()) {
            $days[$day->format('Y-m-d')] = 0;
        }
        foreach (DB::table('volumes')->where('site_id', $site->id)->where('by', 'event')->where('item', $name)->where('hour', '>=', $since->utc()->format('Y-m-d H:i:s'))->pluck('n', 'hour') as $hour => $n) {
            $day = CarbonImmutable::parse($hour, 'UTC')->setTimezone($site->time_zone)->format('Y-m-d');
            $days[$day] = ($days[$day] ?? 0) + (int) $n;
        }

        return array_map(static fn (string $day, int $n): array => ['day' => $day, 'count' => $n], array_keys($days), $days);
    }
}

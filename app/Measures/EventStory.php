<?php

namespace App\Measures;

use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Step;
use Pellix\Core\Wiring\Tags\TriggerTrace;

/** Everything that can be told of one stored event: as it came, its session, what its visitor was in, and every rule that looked at it. */
final class EventStory
{
    /** @return array<string, mixed>|null */
    public function of(Site $site, string $id): ?array
    {
        $row = DB::table('events')->where('site_id', $site->id)->where('event_id', $id)->first();
        if ($row === null) {
            return null;
        }
        $event = VisitorEvents::event($row);
        $all = iterator_to_array(VisitorEvents::of($site, [$row->visitor]))[$row->visitor] ?? [$event];
        $sessions = Sessions::of($all, $site->session_minutes);
        $at = (int) array_search($id, array_map(static fn (LogEvent $one): string => $one->id, $all), true);

        return [
            'event' => [
                'id' => $event->id, 'visitor' => $event->visitor, 'user' => $event->user, 'time' => $event->time, 'received' => CarbonImmutable::parse($row->received, 'UTC'),
                'clock_shift' => (int) $row->clock_shift, 'name' => $event->name, 'url' => $event->url, 'referrer' => $event->referrer, 'agent' => $event->agent, 'props' => (object) $event->props,
            ],
            'conformance' => Plan::of($site)->judge($event->name, $event->props),
            'session' => self::session($all, $sessions, $at),
            'assignments' => self::assignments($site, $event),
            'goals' => $site->goals()->orderBy('name')->get()->map(static fn (Goal $goal): array => self::goal($goal, $event, $all, $sessions))->all(),
            'triggers' => self::triggers($site, $event),
        ];
    }

    /**
     * @param list<LogEvent> $all
     * @param list<int>      $sessions
     *
     * @return array<string, mixed>
     */
    private static function session(array $all, array $sessions, int $at): array
    {
        $own = array_keys($sessions, $sessions[$at], true);

        return [
            'number' => $sessions[$at],
            'of' => end($sessions),
            'begin' => $all[$own[0]]->time,
            'end' => $all[end($own)]->time,
            'events' => count($own),
            'place' => (int) array_search($at, $own, true) + 1,
        ];
    }

    /** @return list<array<string, mixed>> what the visitor was in at that moment */
    private static function assignments(Site $site, LogEvent $event): array
    {
        return DB::table('events')->forceIndex('events_visitors')->where('site_id', $site->id)->where('visitor', $event->visitor)->where('name', 'exposure')
            ->whereNotNull('variant')->where('time', '<=', $event->time->format('Y-m-d H:i:s.v'))->groupBy('experiment')
            ->selectRaw('experiment, min(variant) as variant, count(distinct variant) as variants, min(time) as since')->get()
            ->map(static fn (object $row): array => [
                'experiment' => $row->experiment, 'variant' => $row->variant, 'several' => $row->variants > 1, 'since' => CarbonImmutable::parse($row->since, 'UTC'),
            ])->all();
    }

    /**
     * @param list<LogEvent> $all
     * @param list<int>      $sessions
     *
     * @return array<string, mixed>
     */
    private static function goal(Goal $kept, LogEvent $event, array $all, array $sessions): array
    {
        $goal = $kept->declared();
        $hits = array_filter(HitFinder::find($goal, $all, $sessions), static fn ($hit): bool => in_array($event->id, $hit->events, true));
        $steps = array_map(static fn (Step $step, int $i): array => ['step' => $i + 1, 'matched' => $step->matches($event), 'conditions' => $step->explain($event)], $goal->steps, array_keys($goal->steps));

        return [
            'key' => $goal->key, 'name' => $goal->name, 'kind' => $goal->kind,
            // A step of a sequence may match without the sequence being completed.
            'hit' => $hits !== [],
            'matched' => in_array(true, array_column($steps, 'matched'), true),
            'steps' => $steps,
        ];
    }

    /** @return list<array<string, mixed>> */
    private static function triggers(Site $site, LogEvent $event): array
    {
        $traces = [];
        foreach ($site->publishedWiring()?->set()->tags ?? [] as $tag) {
            foreach ($tag->triggers as $trigger) {
                $traces[] = ['what' => "tag {$tag->key}", ...TriggerTrace::of($trigger, $event)];
            }
        }
        foreach ($site->experiments()->where('state', 'running')->whereNotNull('trigger')->with('goals')->get() as $experiment) {
            /** @var Experiment $experiment */
            $trigger = $experiment->declared()->trigger;
            if ($trigger !== null) {
                $traces[] = ['what' => "experiment {$experiment->key}", ...TriggerTrace::of($trigger, $event)];
            }
        }

        return $traces;
    }
}

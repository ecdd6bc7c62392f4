<?php

namespace App\Measures;

use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use App\ReadModel\StoredEvents;
use Carbon\CarbonImmutable;
use Pellix\Core\Events\EventName;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Step;
use Pellix\Core\InvalidInput;
use Pellix\Core\Triggers\Trigger;
use Pellix\Core\Triggers\TriggerTrace;

/** Everything that can be told of one stored event: as it came, its session, what its visitor was in, and every rule that looked at it. */
final class EventStory
{
    /** @return array<string, mixed>|null */
    public function of(Site $site, string $id, ?string $visitor = null): ?array
    {
        $row = StoredEvents::find($site->id, $id, $visitor);
        if ($row === null) {
            return null;
        }
        $event = StoredEvents::event($row);
        $rows = StoredEvents::around($site->id, $row->visitor, $row->time);
        $all = array_map(StoredEvents::event(...), $rows);
        $sessions = Sessions::of($all, $site->session_minutes);
        $at = (int) array_search($id, array_map(static fn (LogEvent $one): string => $one->id, $all), true);

        return [
            'event' => [
                'id' => $event->id, 'visitor' => $event->visitor, 'user' => $event->user, 'time' => CarbonImmutable::instance($event->time), 'received' => CarbonImmutable::parse($row->received, 'UTC'),
                'clock_shift' => (int) $row->clock_shift, 'configuration' => $row->configuration, 'name' => $event->name, 'url' => $event->url, 'referrer' => $event->referrer, 'agent' => $event->agent, 'props' => (object) $event->props,
            ],
            'conformance' => Plan::of($site)->judge($event->name, $event->props),
            'session' => self::session($all, $sessions, $at),
            'assignments' => self::assignments($rows, $row->time),
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
            'begin' => CarbonImmutable::instance($all[$own[0]]->time),
            'end' => CarbonImmutable::instance($all[end($own)]->time),
            'events' => count($own),
            'place' => (int) array_search($at, $own, true) + 1,
        ];
    }

    /**
     * @param list<object> $rows
     *
     * @return list<array<string, mixed>> what the visitor was in at that moment
     */
    private static function assignments(array $rows, string $time): array
    {
        $found = [];
        foreach ($rows as $row) {
            if ($row->name === EventName::Exposure->value && $row->variant !== null && $row->time <= $time) {
                $found[$row->experiment]['since'] ??= $row->time;
                $found[$row->experiment]['variants'][$row->variant] = true;
            }
        }

        return array_map(static fn (string $experiment, array $one): array => [
            'experiment' => $experiment, 'variant' => (string) array_key_first($one['variants']), 'several' => count($one['variants']) > 1, 'since' => CarbonImmutable::parse($one['since'], 'UTC'),
        ], array_map(strval(...), array_keys($found)), array_values($found));
    }

    /**
     * @param list<LogEvent> $all
     * @param list<int>      $sessions
     *
     * @return array<string, mixed>
     */
    private static function goal(Goal $kept, LogEvent $event, array $all, array $sessions): array
    {
        try {
            $goal = $kept->declared();
        } catch (InvalidInput $e) {
            return ['key' => $kept->key, 'name' => $kept->name, 'kind' => (string) ($kept->definition['kind'] ?? ''), 'hit' => false, 'matched' => false, 'steps' => [], 'error' => "It cannot be read: {$e->field}: {$e->getMessage()}"];
        }
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
            try {
                $traces[] = ['what' => "experiment {$experiment->key}", ...TriggerTrace::of(Trigger::read($experiment->trigger), $event)];
            } catch (InvalidInput) {
                // Its own page says that it cannot be read.
            }
        }

        return $traces;
    }
}

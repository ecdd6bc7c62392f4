<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;

/** Whether a goal that was walked to has arrived as it should: once, in time, with its value, for the right visitor. */
final class GoalJudge
{
    public const SECONDS = 5.0;

    /**
     * @param list<Hit>      $hits    of the visitor, of this walk alone
     * @param list<LogEvent> $events  of the visitor, of this walk alone
     * @param float|null     $seconds from the last step to the arrival; null where nothing arrived
     * @param int|null       $times   how often it is expected; null for once
     * @param float|null     $worth   the value that is expected
     * @param string         $way     under which circumstances, in words; empty for the ordinary ones
     *
     * @return list<Finding>
     */
    public static function judge(Goal $goal, array $hits, array $events, ?float $seconds, string $variant, ?int $times, ?float $worth, string $way): array
    {
        $wanted = $times ?? 1;
        if ($hits === []) {
            return [self::missing($goal, $events, $variant, $way)];
        }
        $found = [];
        if (count($hits) > $wanted) {
            $found[] = new Finding(
                CheckCode::GoalTwice,
                "Goal “{$goal->name}” arrives ".count($hits)." times in “{$variant}”, where ".($wanted === 1 ? 'one was' : "{$wanted} were").' to be.',
                self::apart($hits, $events),
                'See which tag fires it again; where it is an order, send order_id, so that it counts once.',
                $variant,
                null,
                $goal->key,
                ['hits' => count($hits), 'events' => array_map(static fn (Hit $hit): string => $hit->event(), array_slice($hits, 0, 5))],
            );
        } elseif (count($hits) < $wanted) {
            $found[] = new Finding(CheckCode::GoalMissing, "Goal “{$goal->name}” arrives ".count($hits)." times in “{$variant}”, where {$wanted} were to be.", '', 'See which of the steps does not fire it.', $variant, null, $goal->key);
        }
        $value = self::value($goal, $hits[0], $events, $variant, $worth);
        $value === null || $found[] = $value;
        if ($way === '' && $seconds !== null && $seconds > self::SECONDS) {
            $found[] = new Finding(CheckCode::GoalLate, "Goal “{$goal->name}” arrives ".round($seconds, 1)." s after the last step in “{$variant}”.", 'Something holds it up on the page, or on the way.', 'See what the page waits for before it fires the goal.', $variant, null, $goal->key, ['seconds' => round($seconds, 2)]);
        }

        return $found;
    }

    /** @param list<LogEvent> $events */
    private static function missing(Goal $goal, array $events, string $variant, string $way): Finding
    {
        $names = array_count_values(array_map(static fn (LogEvent $event): string => $event->name, $events));
        $wanted = implode(' or ', $goal->events());
        $same = array_values(array_filter($events, static fn (LogEvent $event): bool => in_array($event->name, $goal->events(), true)));
        $cause = match (true) {
            $events === [] => 'Nothing at all arrived of this visitor: see what is found of the snippet and of consent.',
            $same === [] => "No event {$wanted} was sent; what came last was {$events[count($events) - 1]->name} on {$events[count($events) - 1]->url}.",
            default => 'There were '.count($same)." events {$wanted}, and none that counts: the last was on {$same[count($same) - 1]->url}.",
        };

        return new Finding(
            $way === 'when the page is left at once' ? CheckCode::GoalLost : CheckCode::GoalMissing,
            "Goal “{$goal->name}” does not arrive in “{$variant}”".($way === '' ? '' : ", {$way}").'.',
            $cause,
            $goal->kind === 'page' ? 'See whether the snippet is on that page, and whether the goal’s path is spelt as the address is.' : "See whether the tag that sends {$wanted} is on the page in this variant, too.",
            $variant,
            null,
            $goal->key,
            ['events' => $names, ...($way === '' ? [] : ['step' => $way])],
        );
    }

    /** @param list<LogEvent> $events */
    private static function value(Goal $goal, Hit $hit, array $events, string $variant, ?float $worth): ?Finding
    {
        $event = null;
        foreach ($events as $one) {
            $event = $one->id === $hit->event() ? $one : $event;
        }
        $prop = $goal->fixed !== null ? null : ($goal->valueProp ?? ($goal->kind === 'order' ? 'value' : null));
        if ($prop !== null && $hit->value === null) {
            $raw = $event === null ? null : ($event->props[$prop] ?? null);
            $said = $raw === null ? "The event has no {$prop}." : "The event’s {$prop} is ".(is_string($raw) ? "the text “{$raw}”" : (string) json_encode($raw)).'.';
            $comma = is_string($raw) && preg_match('/\A\s*\D{0,3}\s*[\d.\s]*\d,\d{1,2}\s*\D{0,3}\z/', $raw) === 1;

            return new Finding(CheckCode::GoalValue, "Goal “{$goal->name}” arrives without a value in “{$variant}”.", $said.($comma ? ' A comma is no decimal point.' : ''), "Send {$prop} as a number, such as 19.9, not as a text.", $variant, null, $goal->key, ['raw' => $raw]);
        }
        if ($worth !== null && ($hit->value === null || abs($hit->value - $worth) > 1e-9 * max(1.0, abs($worth)))) {
            return new Finding(CheckCode::GoalValue, "Goal “{$goal->name}” is worth ".($hit->value ?? 'nothing').", not {$worth}, in “{$variant}”.", '', 'See which value the page sends.', $variant, null, $goal->key, ['is' => $hit->value, 'wanted' => $worth]);
        }
        if ($prop !== null && ($hit->currency === null || ($goal->currency !== null && $hit->currency !== strtoupper($goal->currency)))) {
            return new Finding(CheckCode::GoalValue, "Goal “{$goal->name}” is worth {$hit->value} ".($hit->currency === null ? 'of no currency' : "in {$hit->currency}, not in {$goal->currency},")." in “{$variant}”.", $hit->currency === null ? 'The event has no currency, and the goal names none.' : 'The event names another currency than the goal.', 'Send currency with the event, such as EUR.', $variant, null, $goal->key, ['currency' => $hit->currency]);
        }

        return null;
    }

    /**
     * @param non-empty-list<Hit> $hits
     * @param list<LogEvent>      $events
     */
    private static function apart(array $hits, array $events): string
    {
        [$first, $second] = [$hits[0], $hits[1] ?? $hits[0]];
        $ms = 1000 * ((float) $second->time->format('U.u') - (float) $first->time->format('U.u'));
        $name = '';
        foreach ($events as $event) {
            $name = $event->id === $second->event() ? $event->name : $name;
        }

        return ($first->url === $second->url ? "{$first->url} sent {$name} twice" : "{$first->url} and {$second->url} each sent {$name}").', '.round($ms).' ms apart.';
    }
}

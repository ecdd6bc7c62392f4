<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;

/** Finds every time that one visitor reached a goal. How many of them count is `Totals`' to say. */
final class HitFinder
{
    /** Of the ways that have come equally far, so many are followed that began first, and the one that began last. */
    private const MOST_RUNS = 20;

    /**
     * @param list<LogEvent> $events   of one visitor, in the order of time
     * @param list<int>      $sessions of each event, as `Sessions` numbers them
     *
     * @return list<Hit> in the order of time
     */
    public static function find(Goal $goal, array $events, array $sessions): array
    {
        return self::among($goal, $events, self::begins($events, $sessions), array_keys($events));
    }

    /**
     * The same among some of the events: the others are of names that the goal does not look at.
     *
     * @param list<LogEvent>           $events    of one visitor, in the order of time
     * @param list<\DateTimeImmutable> $begins    of each event's session
     * @param list<int>                $positions of the events that are looked at, in order
     *
     * @return list<Hit> in the order of time
     */
    public static function among(Goal $goal, array $events, array $begins, array $positions): array
    {
        return $goal->kind === 'steps' ? self::sequences($goal, $events, $begins, $positions) : self::single($goal, $events, $begins, $positions);
    }

    /**
     * @param list<LogEvent> $events
     * @param list<int>      $sessions
     *
     * @return list<\DateTimeImmutable> when the session of each event began
     */
    public static function begins(array $events, array $sessions): array
    {
        $begins = [];
        foreach ($sessions as $i => $number) {
            $begins[$number] ??= $events[$i]->time;
        }

        return array_map(static fn (int $number): \DateTimeImmutable => $begins[$number], $sessions);
    }

    /**
     * @param list<LogEvent>           $events
     * @param list<\DateTimeImmutable> $begins
     * @param list<int>                $positions
     *
     * @return list<Hit>
     */
    private static function single(Goal $goal, array $events, array $begins, array $positions): array
    {
        $hits = [];
        $views = [];
        $step = $goal->steps[0];
        $isTold = in_array($goal->kind, ['engaged', 'scroll'], true);
        foreach ($positions as $i) {
            $event = $events[$i];
            if (! $step->matches($event)) {
                continue;
            }
            if ($isTold) {
                // These are told again and again as they grow; each page view reaches the mark once.
                $view = $event->text('view') ?? "{$begins[$i]->format('U.v')} {$event->url}";
                if (isset($views[$view])) {
                    continue;
                }
                $views[$view] = true;
            }
            $hits[] = self::hit($goal, $event, $begins[$i], [$event->id]);
        }

        return $hits;
    }

    /**
     * Every way through the steps is followed from each of its beginnings; when one arrives, all begin anew.
     *
     * @param list<LogEvent>           $events
     * @param list<\DateTimeImmutable> $begins
     * @param list<int>                $positions
     *
     * @return list<Hit>
     */
    private static function sequences(Goal $goal, array $events, array $begins, array $positions): array
    {
        $hits = [];
        /** @var list<array{next: int, from: float, ids: list<string>}> $runs */
        $runs = [];
        foreach ($positions as $i) {
            $event = $events[$i];
            $at = (float) $event->time->format('U.u');
            $runs = array_values(array_filter($runs, static fn (array $run): bool => $goal->within === null || $at - $run['from'] <= $goal->within));
            $advanced = [];
            foreach ([...$runs, ['next' => 0, 'from' => $at, 'ids' => []]] as $run) {
                $reached = self::advance($goal, $run['next'], $event);
                if ($reached !== null) {
                    $advanced[] = ['next' => $reached + 1, 'from' => $run['from'], 'ids' => [...$run['ids'], $event->id]];
                } elseif ($run['ids'] !== []) {
                    $advanced[] = $run;
                }
            }
            foreach ($advanced as $run) {
                if (self::isComplete($goal, $run['next'])) {
                    $hits[] = self::hit($goal, $event, $begins[$i], $run['ids']);
                    $advanced = [];
                    break;
                }
            }
            $runs = self::followed($advanced);
        }

        return $hits;
    }

    /**
     * Ways that have come equally far go on alike. What began last lasts longest where there is a limit of time, so nobody
     * is lost by leaving others out.
     *
     * @param list<array{next: int, from: float, ids: list<string>}> $runs in the order in which they began
     *
     * @return list<array{next: int, from: float, ids: list<string>}>
     */
    private static function followed(array $runs): array
    {
        if (count($runs) <= self::MOST_RUNS) {
            return $runs;
        }
        $number = array_count_values(array_column($runs, 'next'));
        $seen = [];

        return array_values(array_filter($runs, static function (array $run) use ($number, &$seen): bool {
            $seen[$run['next']] = ($seen[$run['next']] ?? 0) + 1;

            return $seen[$run['next']] <= self::MOST_RUNS || $seen[$run['next']] === $number[$run['next']];
        }));
    }

    /**
     * The furthest step that an event takes, from the one that is next on: optional ones may be left out. Whoever is
     * further needs no more than those behind, so no other choice can arrive where this one does not.
     */
    private static function advance(Goal $goal, int $next, LogEvent $event): ?int
    {
        $reached = null;
        for ($step = $next; $step < count($goal->steps); $step++) {
            if ($goal->steps[$step]->matches($event)) {
                $reached = $step;
            }
            if (! $goal->optional[$step]) {
                break;
            }
        }

        return $reached;
    }

    private static function isComplete(Goal $goal, int $next): bool
    {
        return ! in_array(false, array_slice($goal->optional, $next), true);
    }

    /** @param non-empty-list<string> $ids */
    private static function hit(Goal $goal, LogEvent $event, \DateTimeImmutable $session, array $ids): Hit
    {
        // An empty order number is none.
        $order = $event->name === 'order' ? $event->text('order_id') : null;
        $value = $goal->fixed ?? ($goal->valueProp === null ? null : $event->number($goal->valueProp));
        $value = $value === null || abs($value) > Hit::LARGEST_VALUE ? null : $value;
        $currency = $goal->fixed === null ? ($event->text('currency') ?? $goal->currency) : $goal->currency;

        return new Hit(
            $event->visitor,
            $session,
            $event->time,
            $event->url,
            $ids,
            $value,
            $value === null || $currency === null ? null : strtoupper($currency),
            $order === '' ? null : $order,
            $event->user,
        );
    }
}

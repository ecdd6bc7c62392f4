<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;

/** Finds every time that one visitor reached a goal. How many of them count is `Totals`' to say. */
final class HitFinder
{
    /** So many beginnings of a sequence are followed at once. */
    private const MOST_RUNS = 50;

    /**
     * @param list<LogEvent> $events   of one visitor, in the order of time
     * @param list<int>      $sessions of each event, as `Sessions` numbers them
     *
     * @return list<Hit> in the order of time
     */
    public static function find(Goal $goal, array $events, array $sessions): array
    {
        return $goal->kind === 'steps' ? self::sequences($goal, $events, $sessions) : self::single($goal, $events, $sessions);
    }

    /**
     * @param list<LogEvent> $events
     * @param list<int>      $sessions
     *
     * @return list<Hit>
     */
    private static function single(Goal $goal, array $events, array $sessions): array
    {
        $hits = [];
        $views = [];
        foreach ($events as $i => $event) {
            if (! $goal->steps[0]->matches($event)) {
                continue;
            }
            if (in_array($goal->kind, ['engaged', 'scroll'], true)) {
                // These are told again and again as they grow; each page view reaches the mark once.
                $view = $event->text('view') ?? "{$sessions[$i]} {$event->url}";
                if (isset($views[$view])) {
                    continue;
                }
                $views[$view] = true;
            }
            $hits[] = self::hit($goal, $event, $sessions[$i], [$event->id]);
        }

        return $hits;
    }

    /**
     * Every way through the steps is followed from each of its beginnings; when one arrives, all begin anew.
     *
     * @param list<LogEvent> $events
     * @param list<int>      $sessions
     *
     * @return list<Hit>
     */
    private static function sequences(Goal $goal, array $events, array $sessions): array
    {
        $hits = [];
        /** @var list<array{next: int, from: float, ids: list<string>}> $runs */
        $runs = [];
        foreach ($events as $i => $event) {
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
                    $hits[] = self::hit($goal, $event, $sessions[$i], $run['ids']);
                    $advanced = [];
                    break;
                }
            }
            $runs = array_slice($advanced, -self::MOST_RUNS);
        }

        return $hits;
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

    /** @param list<string> $ids */
    private static function hit(Goal $goal, LogEvent $event, int $session, array $ids): Hit
    {
        $value = $goal->fixed ?? ($goal->valueProp === null ? null : $event->number($goal->valueProp));
        $currency = $goal->fixed === null ? ($event->text('currency') ?? $goal->currency) : $goal->currency;

        return new Hit(
            $event->visitor,
            $session,
            $event->time,
            $event->url,
            $ids,
            $value,
            $value === null || $currency === null ? null : strtoupper($currency),
            $event->name === 'order' ? $event->text('order_id') : null,
        );
    }
}

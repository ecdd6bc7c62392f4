<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Goals\Hit;

/**
 * When hits of a goal were, by the hour, in a form that adds up over visitors: hits, and the sessions and visitors whose
 * *last* hit lies in an hour. Whoever reached the goal within the last n hours has the last hit there: so how many did is a sum.
 */
final class GoalHours
{
    /**
     * @param list<Hit> $hits of one visitor; of an order that was sent again only the first
     *
     * @return array<string, array{hits: int, sessions: int, visitors: int}> hour as `2026-03-02 10:00:00`, UTC
     */
    public static function of(array $hits): array
    {
        $all = $sessions = [];
        $last = null;
        foreach ($hits as $hit) {
            $hour = $hit->time->format('Y-m-d H:00:00');
            $all[$hour] = ($all[$hour] ?? 0) + 1;
            $session = $hit->session->format('U.v');
            $sessions[$session] = max($sessions[$session] ?? $hour, $hour);
            $last = max($last ?? $hour, $hour);
        }
        $ends = array_count_values($sessions);
        $hours = [];
        foreach ($all as $hour => $number) {
            $hours[$hour] = ['hits' => $number, 'sessions' => $ends[$hour] ?? 0, 'visitors' => $hour === $last ? 1 : 0];
        }

        return $hours;
    }
}

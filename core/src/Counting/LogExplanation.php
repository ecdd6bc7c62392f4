<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;

/** Says of each event of one visitor, and of each goal, why it did or did not count. */
final class LogExplanation
{
    /**
     * @param list<Goal>            $goals
     * @param list<LogEvent>        $events in the order of time
     * @param array<int, list<Hit>> $hits   place of the goal => hits
     *
     * @return list<string> lines
     */
    public static function of(array $goals, array $events, array $hits): array
    {
        $lines = [];
        foreach ($events as $event) {
            $lines[] = "{$event->time->format('Y-m-d\TH:i:s.v\Z')} {$event->name} {$event->url} ({$event->id})";
            foreach ($goals as $i => $goal) {
                $lines[] = "  {$goal->key}: ".self::why($goal, $event, $hits[$i] ?? []);
            }
        }

        return $lines;
    }

    /** @param list<Hit> $hits */
    private static function why(Goal $goal, LogEvent $event, array $hits): string
    {
        foreach ($hits as $n => $hit) {
            if (! in_array($event->id, $hit->events, true)) {
                continue;
            }
            if ($hit->event() !== $event->id) {
                return 'is step '.(1 + (int) array_search($event->id, $hit->events, true)).' of hit '.($n + 1).'.';
            }
            $counts = match ($goal->count) {
                'visitor' => $n === 0,
                'session' => array_filter(array_slice($hits, 0, $n), static fn (Hit $earlier): bool => $earlier->session == $hit->session) === [],
                default => true,
            };
            $worth = match (true) {
                $hit->value !== null => ' worth '.json_encode($hit->value).($hit->currency === null ? '' : " {$hit->currency}"),
                $goal->valueProp !== null => " without a value that can be read in {$goal->valueProp}",
                default => '',
            };

            return 'is hit '.($n + 1).$worth.($counts ? '' : ", which does not count: once a {$goal->count}, and there was one before").($hit->order === null ? '.' : "; order {$hit->order} counts once, where it was told of first.");
        }
        $reasons = [];
        foreach ($goal->steps as $n => $step) {
            $failed = array_values(array_filter($step->explain($event), static fn (array $line): bool => ! $line['holds']));
            if ($failed === []) {
                return count($goal->steps) > 1 ? 'could be step '.($n + 1).', and no sequence with it was finished.' : 'was told before in the same page view.';
            }
            $line = $failed[0];
            $reasons[] = (count($goal->steps) > 1 ? 'step '.($n + 1).': ' : '')."{$line['fact']} {$line['op']} ".json_encode($line['value'], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE).', and is '.json_encode($line['seen'], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PARTIAL_OUTPUT_ON_ERROR);
        }

        return 'no: '.implode('; ', $reasons).'.';
    }
}

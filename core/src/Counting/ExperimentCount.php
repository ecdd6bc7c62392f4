<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Totals;

/** The figures of an experiment from a whole log: the definition that whatever keeps them step by step is held to. */
final class ExperimentCount
{
    /**
     * @param list<LogEvent> $events of any number of visitors, in any order
     *
     * @return array<string, int> figures as `Figures` names them, those that are 0 left out; goals by their keys
     */
    public static function of(Experiment $experiment, Periods $ran, array $events, int $sessionMinutes = Sessions::DEFAULT_MINUTES): array
    {
        $visitors = self::logs($events, static fn (LogEvent $event): string => $event->visitor, $sessionMinutes);
        $units = $experiment->unit === 'user' ? self::logs($events, static fn (LogEvent $event): ?string => $event->user, $sessionMinutes) : $visitors;
        $figures = $participations = [];
        foreach ($units as $unit => $log) {
            $participations[$unit] = Participation::of($experiment, $ran, $log);
            Figures::add($figures, Figures::entry($participations[$unit]));
        }
        foreach ($experiment->goals as $goal) {
            $hits = Totals::onceAnOrder(array_merge(...array_map(static fn (VisitorLog $log): array => $log->hits($goal), array_values($visitors))));
            foreach (self::grouped($hits, static fn (Hit $hit): string => $hit->visitor) as $own) {
                Figures::add($figures, Figures::everyone($goal->key, $goal, $own, $ran));
            }
            foreach (self::grouped($hits, static fn (Hit $hit): ?string => $experiment->unit === 'user' ? $hit->user : $hit->visitor) as $unit => $own) {
                Figures::add($figures, Figures::reached($goal->key, $goal, $own, $ran, $participations[$unit] ?? null));
            }
        }

        return array_filter($figures);
    }

    /**
     * @param list<LogEvent>              $events
     * @param callable(LogEvent): ?string $unit
     *
     * @return array<string, VisitorLog>
     */
    private static function logs(array $events, callable $unit, int $sessionMinutes): array
    {
        return array_map(
            static fn (array $own): VisitorLog => new VisitorLog($own, $sessionMinutes),
            self::grouped(LogEvent::inOrder($events), $unit),
        );
    }

    /**
     * @template T
     *
     * @param list<T>             $all
     * @param callable(T): ?string $by
     *
     * @return array<string, list<T>> keys with a mark before them, since PHP would take an id of digits for a number
     */
    private static function grouped(array $all, callable $by): array
    {
        $groups = [];
        foreach ($all as $one) {
            $key = $by($one);
            if ($key !== null) {
                $groups["#{$key}"][] = $one;
            }
        }

        return $groups;
    }
}

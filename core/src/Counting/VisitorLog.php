<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;

/** The events of one visitor in the order of time, sorted out once for everything that counts them. */
final class VisitorLog
{
    /** Whoever sends more is no visitor: the first so many, by time, are counted. */
    public const MOST_EVENTS = 10_000;

    /** @var list<LogEvent> */
    public readonly array $events;

    /** @var array<string, list<LogEvent>> event name => events */
    public readonly array $named;

    /** @var array<string, list<int>> event name => positions of its events */
    private array $positions = [];

    /** @var list<int>|null */
    private ?array $sessions = null;

    /** @var list<\DateTimeImmutable>|null */
    private ?array $begins = null;

    /** @param list<LogEvent> $events in the order of time */
    public function __construct(array $events, private readonly int $sessionMinutes = Sessions::DEFAULT_MINUTES)
    {
        $this->events = count($events) > self::MOST_EVENTS ? array_slice($events, 0, self::MOST_EVENTS) : $events;
        $named = [];
        foreach ($this->events as $i => $event) {
            $named[$event->name][] = $event;
            $this->positions[$event->name][] = $i;
        }
        $this->named = $named;
    }

    /** @return list<int> the number of the session of each event, from 1 */
    public function sessions(): array
    {
        return $this->sessions ??= Sessions::of($this->events, $this->sessionMinutes);
    }

    /** @return list<Hit> each time that the goal was reached, in the order of time */
    public function hits(Goal $goal): array
    {
        $positions = [];
        foreach ($goal->events() as $name) {
            array_push($positions, ...$this->positions[$name] ?? []);
        }
        if ($positions === []) {
            return [];
        }
        if (count($goal->events()) > 1) {
            sort($positions);
        }

        return HitFinder::among($goal, $this->events, $this->begins ??= HitFinder::begins($this->events, $this->sessions()), $positions);
    }
}

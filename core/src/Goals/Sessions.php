<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;

/** Splits the events of one visitor into sessions: one ends when nothing happens for so long. Midnight ends none. */
final class Sessions
{
    /** Common practice, no source. */
    public const DEFAULT_MINUTES = 30;

    /** Whether nothing has happened for so many seconds that the next event begins another session. */
    public static function isOver(float $idle, int $minutes): bool
    {
        return $idle >= 60 * $minutes;
    }

    /**
     * @param list<LogEvent> $events of one visitor, in the order of time
     *
     * @return list<int> the number of the session of each event, from 1
     */
    public static function of(array $events, int $minutes = self::DEFAULT_MINUTES): array
    {
        $sessions = [];
        $number = 0;
        $last = null;
        foreach ($events as $event) {
            if ($last === null || self::isOver((float) $event->time->format('U.u') - $last, $minutes)) {
                $number++;
            }
            $last = (float) $event->time->format('U.u');
            $sessions[] = $number;
        }

        return $sessions;
    }
}

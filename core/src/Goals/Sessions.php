<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;

/** Splits the events of one visitor into sessions: one ends when nothing happens for so long. Midnight ends none. */
final class Sessions
{
    /** Common practice, no source. */
    public const DEFAULT_MINUTES = 30;

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
            if ($last === null || (float) $event->time->format('U.u') - $last >= 60 * $minutes) {
                $number++;
            }
            $last = (float) $event->time->format('U.u');
            $sessions[] = $number;
        }

        return $sessions;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Exclusions;

/** What is left out of an audit. */
enum ExclusionKind: string
{
    /** Visitors that are programs: by their user agent, or since they are faster than people. */
    case Bots = 'bots';

    /** Visitors who are one's own people: by a rule on their events, by their ids, or else by what tells so already. */
    case Internal = 'internal';

    /** A stretch of time: its events, and whoever first met the experiment in it. */
    case Time = 'time';

    /** Pages: their events. */
    case Page = 'page';

    public function label(): string
    {
        return match ($this) {
            self::Bots => 'Bots: programs among the visitors',
            self::Internal => 'Internal traffic: one’s own people',
            self::Time => 'A stretch of time',
            self::Page => 'Pages',
        };
    }

    /** Whether who is concerned is left out with everything that they did. */
    public function isOfVisitors(): bool
    {
        return $this === self::Bots || $this === self::Internal;
    }
}

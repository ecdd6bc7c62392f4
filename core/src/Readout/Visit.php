<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What is measured of every visit, without a goal. Keys have a dot, which no key of a goal has. */
enum Visit: string
{
    /** Whether the session that the visitor entered in has no other page view. */
    case Bounced = 'visit.bounced';

    /** Seconds of attention from the first exposure on, of a visitor. */
    case Engaged = 'visit.engaged';

    /** Page views per session. */
    case Pages = 'visit.pages';

    /** Seconds from the first to the last event of a session. */
    case Length = 'visit.length';

    public function measure(): Measure
    {
        return match ($this) {
            self::Bounced => Measure::Rate,
            self::Engaged => Measure::Mean,
            self::Pages, self::Length => Measure::Ratio,
        };
    }

    public function isLowerBetter(): bool
    {
        return $this === self::Bounced;
    }

    public function words(): string
    {
        return match ($this) {
            self::Bounced => 'Bounces',
            self::Engaged => 'Engaged time per visitor',
            self::Pages => 'Pages per session',
            self::Length => 'Session length',
        };
    }

    /** Plan::MEASURES that are of visits => what is measured. */
    public static function ofPlan(string $measure): ?self
    {
        return match ($measure) {
            'bounce' => self::Bounced,
            'engaged' => self::Engaged,
            default => null,
        };
    }
}

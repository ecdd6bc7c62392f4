<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** What the evidence says about a link. */
enum State: string
{
    case Holds = 'holds';
    case Doubt = 'doubt';
    case Broken = 'broken';
    case Unseen = 'unseen';
    case Stale = 'stale';

    /** What is graver comes first. */
    public function gravity(): int
    {
        return (int) array_search($this, [self::Broken, self::Unseen, self::Doubt, self::Stale, self::Holds], true);
    }

    public function label(): string
    {
        return match ($this) {
            self::Holds => 'holds',
            self::Doubt => 'in doubt',
            self::Broken => 'broken',
            self::Unseen => 'not seen yet',
            self::Stale => 'grown stale',
        };
    }
}

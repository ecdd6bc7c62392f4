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
}

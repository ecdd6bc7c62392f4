<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** What a step waits for or expects, by the member that names it. */
enum Aim: string
{
    case Element = 'element';
    case Address = 'address';
    case Cookie = 'cookie';
    case Event = 'event';
    case Goal = 'goal';
    case Tag = 'tag';
    case Seconds = 'seconds';

    public function label(): string
    {
        return match ($this) {
            self::Element => 'an element',
            self::Address => 'an address',
            self::Cookie => 'a cookie',
            self::Event => 'an event',
            self::Goal => 'a goal',
            self::Tag => 'a tag',
            self::Seconds => 'some time',
        };
    }

    public function canBeExpected(): bool
    {
        return $this !== self::Seconds;
    }

    public function canBeAwaited(): bool
    {
        return in_array($this, [self::Element, self::Event, self::Seconds], true);
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** Where something is put, as seen from another element. */
enum ChangePlace: string
{
    case Before = 'before';
    case After = 'after';
    case First = 'first';
    case Last = 'last';

    public function label(): string
    {
        return match ($this) {
            self::Before => 'before it',
            self::After => 'after it',
            self::First => 'first inside it',
            self::Last => 'last inside it',
        };
    }
}

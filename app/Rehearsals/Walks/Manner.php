<?php

declare(strict_types=1);

namespace App\Rehearsals\Walks;

/** How a script is walked. */
enum Manner: string
{
    case Ordinary = '';
    case Slow = 'on a slow connection';
    case Leaving = 'when the page is left at once';
}

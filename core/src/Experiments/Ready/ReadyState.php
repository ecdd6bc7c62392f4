<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

/** What a point of the ready list says about a start. */
enum ReadyState: string
{
    /** It should not start like this; whoever starts it all the same says why. */
    case Blocker = 'blocker';

    /** It can start, and would be better with this. */
    case Advice = 'advice';

    /** There is evidence that it is in order. */
    case Fine = 'fine';
}

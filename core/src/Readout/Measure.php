<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What of a goal is compared between variants. */
enum Measure: string
{
    /** The part of the visitors that reached it. */
    case Rate = 'rate';

    /** An amount per visitor, such as value or engaged time. */
    case Mean = 'mean';

    /** A sum of something over a sum of something else, such as sessions with a hit per session. */
    case Ratio = 'ratio';
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Readout\Reading;

use Pellix\Core\Goals\Hit;
use Pellix\Core\Readout\UnitTotals;

/** What a unit comes to, but for goals that orders reached: of those it must be known first who told of which order. */
final readonly class UnitRead
{
    /**
     * @param int                   $first   first exposure, in milliseconds since 1970
     * @param array<int, list<Hit>> $waiting place of the goal => hits, some of which are orders
     */
    public function __construct(public UnitTotals $totals, public int $first, public array $waiting)
    {
    }
}

<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Rehearsal;
use Pellix\Core\Rehearsal\Results;

/** Two rehearsals of one experiment beside each other. */
final class Differences
{
    /** @return array{before: array<string, mixed>, after: array<string, mixed>, broke: list<array<string, mixed>>, mended: list<array<string, mixed>>, stayed: list<array<string, mixed>>, pictures: list<string>} */
    public static function between(Rehearsal $before, Rehearsal $after): array
    {
        return [
            'before' => Report::head($before),
            'after' => Report::head($after),
            ...Results::compared(Report::allFindings($before), Report::allFindings($after), $after->variants, $after->screens),
            'pictures' => array_values(array_intersect(Report::pictures($before), Report::pictures($after))),
        ];
    }
}

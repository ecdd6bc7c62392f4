<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;

final readonly class AssignmentPart implements Part
{
    public function play(Stage $stage, ?string $variant): Outcome
    {
        return new Outcome();
    }
}

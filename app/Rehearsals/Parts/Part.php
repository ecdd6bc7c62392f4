<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;

/** One part of a rehearsal, which can be played by itself. */
interface Part
{
    public function play(Stage $stage, ?string $variant): Outcome;
}

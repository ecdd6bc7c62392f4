<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;

/** One part of a rehearsal, which can be played by itself. */
interface Part
{
    /** @param string|null $variant key of the variant that it is about; of a page of an installation, its number */
    public function play(Stage $stage, ?string $variant): Outcome;
}

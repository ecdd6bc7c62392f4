<?php

namespace App\ReadModel;

use App\Models\Site;

/** Something that is looked after now and then on every site. */
interface Round
{
    /** @return bool whether there is more to do at once */
    public function make(Site $site): bool;
}

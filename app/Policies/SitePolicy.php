<?php

namespace App\Policies;

use App\Models\Site;
use App\Models\User;

/** Whoever looks after a site may see and change all of it; to everybody else it does not exist. */
class SitePolicy
{
    public function tend(User $user, Site $site): bool
    {
        return $user->sites()->whereKey($site->id)->exists();
    }
}

<?php

namespace App\Policies;

use App\Models\Site;
use App\Models\User;
use Pellix\Core\Rights\Right;

/** Whoever looks after a site may do on it what their right says; to everybody else it does not exist. */
class SitePolicy
{
    public function look(User $user, Site $site): bool
    {
        return $this->has($user, $site, Right::Look);
    }

    public function work(User $user, Site $site): bool
    {
        return $this->has($user, $site, Right::Work);
    }

    public function publish(User $user, Site $site): bool
    {
        return $this->has($user, $site, Right::Publish);
    }

    public function own(User $user, Site $site): bool
    {
        return $this->has($user, $site, Right::Own);
    }

    private function has(User $user, Site $site, Right $right): bool
    {
        return $user->rightOn($site)?->includes($right) === true;
    }
}

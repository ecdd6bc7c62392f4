<?php

namespace App\Measures;

use App\Models\Site;
use App\Models\Trial;
use App\Models\User;
use Carbon\CarbonImmutable;
use Pellix\Core\Goals\Goal;

/** Begins trials, which run in the background, and forgets old ones. */
final class Trials
{
    private const KEPT_HOURS = 24;

    public function start(Site $site, Goal $goal, User $person): Trial
    {
        $now = CarbonImmutable::now('UTC');
        // Whoever goes on writing wants to know of the last state only.
        Trial::query()->where('site_id', $site->id)->where(static fn ($any) => $any->where('started_at', '<', $now->subHours(self::KEPT_HOURS))->orWhere(static fn ($own) => $own->where('user_id', $person->id)->where('state', 'running')))->delete();
        $trial = Trial::query()->create(['site_id' => $site->id, 'user_id' => $person->id, 'definition' => $goal->toArray(), 'state' => 'running', 'done' => 0, 'total' => 0, 'started_at' => $now]);
        RunTrial::dispatch($trial->id);

        return $trial->refresh();
    }
}

<?php

namespace App\Measures;

use App\Models\Site;
use App\Models\Trial;
use App\Models\User;
use Carbon\CarbonImmutable;

/** Begins trials, which run in the background, and forgets old ones. */
final class Trials
{
    private const KEPT_HOURS = 24;

    /** What the same person has tried of the same kind before is of use for so long. */
    private const KEPT_MINUTES = 10;

    /**
     * @param array<string, mixed>   $definition what is tried
     * @param class-string<RunTrial> $job        that tries it
     */
    public function start(Site $site, string $kind, array $definition, User $person, string $job): Trial
    {
        $now = CarbonImmutable::now('UTC');
        // Whoever goes on writing wants to know of the last state only.
        Trial::query()->where('site_id', $site->id)->where(static fn ($any) => $any->where('started_at', '<', $now->subHours(self::KEPT_HOURS))->orWhere(static fn ($own) => $own->where('user_id', $person->id)->where('kind', $kind)->where(static fn ($old) => $old->where('state', 'running')->orWhere('started_at', '<', $now->subMinutes(self::KEPT_MINUTES)))))->delete();
        $trial = Trial::query()->create(['site_id' => $site->id, 'user_id' => $person->id, 'kind' => $kind, 'definition' => $definition, 'state' => 'running', 'done' => 0, 'total' => 0, 'started_at' => $now]);
        $job::dispatch($trial->id);

        return $trial->refresh();
    }
}

<?php

namespace App\Measures;

use App\Models\Goal;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Goals\Goal as Declared;

/** Keeps the goals of a site; every change is a new revision, so that it can be told from when on it counted like that. */
final readonly class GoalStore
{
    public function __construct(private HitKeeper $hits)
    {
    }

    public function create(Site $site, Declared $goal, string $author): Goal
    {
        if ($site->goals()->where('key', $goal->key)->exists()) {
            throw ValidationException::withMessages(['key' => "The key \"{$goal->key}\" is taken by another goal of this site."]);
        }
        $kept = DB::transaction(function () use ($site, $goal, $author): Goal {
            $kept = $site->goals()->create(['key' => $goal->key, 'name' => $goal->name, 'definition' => self::definition($goal), 'revision' => 1]);
            $this->revise($kept, $author);

            return $kept;
        });
        $this->hits->recount($site, $kept);

        return $kept;
    }

    public function change(Site $site, Goal $kept, Declared $goal, string $author): Goal
    {
        $before = $kept->definition;
        $now = self::definition($goal);
        // JSON objects may come back with their members in another order.
        if ($before == $now) {
            return $kept;
        }
        DB::transaction(function () use ($kept, $goal, $now, $author): void {
            $kept->update(['name' => $goal->name, 'definition' => $now, 'revision' => $kept->revision + 1]);
            $this->revise($kept, $author);
        });
        if (array_diff_key($before, ['name' => 0]) != array_diff_key($now, ['name' => 0])) {
            $this->hits->recount($site, $kept);
        }

        return $kept;
    }

    public function delete(Goal $goal): void
    {
        $used = $goal->experiments()->pluck('name')->all();
        abort_if($used !== [], 409, 'This goal is used by '.implode(', ', $used).'. Take it out of them first.');
        $goal->delete();
    }

    private function revise(Goal $goal, string $author): void
    {
        $goal->revisions()->create(['revision' => $goal->revision, 'definition' => $goal->definition, 'author' => $author, 'from' => CarbonImmutable::now('UTC')]);
    }

    /** @return array<string, mixed> */
    private static function definition(Declared $goal): array
    {
        return array_diff_key($goal->toArray(), ['role' => 0]);
    }
}

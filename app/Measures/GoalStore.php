<?php

namespace App\Measures;

use App\Models\Goal;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Goals\Goal as Declared;

/** Keeps the goals of a site; every change is a new revision, so that it can be told from when on it counted like that. */
final class GoalStore
{
    public function create(Site $site, Declared $goal, ?User $author): Goal
    {
        if ($site->goals()->where('key', $goal->key)->exists()) {
            throw ValidationException::withMessages(['key' => "The key \"{$goal->key}\" is taken by another goal of this site."]);
        }
        return DB::transaction(function () use ($site, $goal, $author): Goal {
            Site::hold($site->id);
            $kept = $site->goals()->create(['key' => $goal->key, 'name' => $goal->name, 'definition' => self::definition($goal), 'revision' => 1]);
            $this->revise($kept, $author);
            $site->recount();

            return $kept;
        });
    }

    public function change(Site $site, Goal $kept, Declared $goal, ?User $author): Goal
    {
        $before = $kept->definition;
        $now = self::definition($goal);
        // JSON objects may come back with their members in another order.
        if ($before == $now) {
            return $kept;
        }
        DB::transaction(function () use ($site, $kept, $goal, $now, $author): void {
            Site::hold($site->id);
            $kept->update(['name' => $goal->name, 'definition' => $now, 'revision' => $kept->revision + 1]);
            $this->revise($kept, $author);
            $site->recount();
        });

        return $kept;
    }

    public function delete(Goal $goal): void
    {
        $used = $goal->experiments()->pluck('name')->all();
        abort_if($used !== [], 409, 'This goal is used by '.implode(', ', $used).'. Take it out of them first.');
        DB::transaction(static function () use ($goal): void {
            Site::hold($goal->site_id);
            $goal->delete();
            $goal->site->recount();
        });
    }

    private function revise(Goal $goal, ?User $author): void
    {
        $goal->revisions()->create(['revision' => $goal->revision, 'definition' => $goal->definition, 'author_id' => $author?->id, 'author' => $author->name ?? 'Pellix', 'from' => CarbonImmutable::now('UTC')]);
    }

    /** @return array<string, mixed> */
    private static function definition(Declared $goal): array
    {
        return array_diff_key($goal->toArray(), ['role' => 0]);
    }
}

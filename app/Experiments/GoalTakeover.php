<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\GoalStore;
use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use App\Models\User;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Goals\Goal as Declared;

/** Changes a goal; experiments that are not to take the change over go on with what it was, as a goal of its own. */
final readonly class GoalTakeover
{
    public function __construct(private GoalStore $goals, private Revisions $revisions)
    {
    }

    /**
     * @param list<string> $keepFormer keys of experiments that go on with the former one
     *
     * @throws ValidationException
     */
    public function change(Site $site, Goal $kept, Declared $goal, array $keepFormer, User $author): Goal
    {
        return DB::transaction(function () use ($site, $kept, $goal, $keepFormer, $author): Goal {
            Site::hold($site->id);
            $experiments = $kept->experiments()->whereIn('key', $keepFormer)->get();
            $unknown = array_diff($keepFormer, $experiments->pluck('key')->all());
            if ($unknown !== []) {
                throw ValidationException::withMessages(['keep_former' => 'No experiment that uses this goal has the key '.implode(', ', $unknown).'.']);
            }
            if ($experiments->isNotEmpty() && array_diff_key($goal->toArray(), ['role' => 0]) != $kept->definition) {
                $former = $this->former($site, $kept, $author);
                $experiments->each(fn (Experiment $experiment) => $this->exchange($experiment, $kept, $former, $author));
            }

            return $this->goals->change($site, $kept, $goal, $author);
        });
    }

    private function former(Site $site, Goal $kept, User $author): Goal
    {
        $key = substr($kept->key, 0, 50)."-r{$kept->revision}";

        return $site->goals()->where('key', $key)->first()
            ?? $this->goals->create($site, Declared::read([...$kept->definition, 'key' => $key, 'name' => mb_substr($kept->name, 0, 100)." (revision {$kept->revision})"]), $author);
    }

    private function exchange(Experiment $experiment, Goal $kept, Goal $former, User $author): void
    {
        DB::table('experiment_goal')->where('experiment_id', $experiment->id)->where('goal_id', $kept->id)->update(['goal_id' => $former->id]);
        $this->revisions->keep($experiment->refresh(), $author, note: "It goes on with “{$former->name}”.");
    }
}

<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\GoalStore;
use App\Models\Experiment;
use App\Models\Site;
use App\Publishing\Publisher;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Auth;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Arm;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Goal;

/** Keeps experiments, and publishes their site whenever visitors will meet something else than before. */
final readonly class ExperimentStore
{
    public function __construct(private Publisher $publisher, private GoalStore $goals)
    {
    }

    public function create(Site $site, Declared $declared): Experiment
    {
        return DB::transaction(function () use ($site, $declared): Experiment {
            if ($site->experiments()->where('key', $declared->key)->exists()) {
                throw ValidationException::withMessages(['key' => "The key \"{$declared->key}\" is taken by another experiment of this site."]);
            }
            $experiment = $site->experiments()->create([...self::columns($declared), 'key' => $declared->key, 'salt' => $declared->salt, 'state' => 'draft', 'stretches' => []]);
            $this->attachGoals($experiment, $declared);

            return $experiment->load('goals');
        });
    }

    public function replace(Experiment $experiment, Declared $declared): Experiment
    {
        $this->onlyDrafts($experiment, 'changed');

        return DB::transaction(function () use ($experiment, $declared): Experiment {
            $experiment->update(self::columns($declared));
            $this->attachGoals($experiment, $declared);

            return $experiment->load('goals');
        });
    }

    public function delete(Experiment $experiment): void
    {
        $this->onlyDrafts($experiment, 'deleted');
        $experiment->delete();
    }

    public function move(Experiment $experiment, string $action): Experiment
    {
        DB::transaction(function () use ($experiment, $action): void {
            // Whoever presses the button second finds it already moved.
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            try {
                $stage = Stage::from($experiment->state)->after($action);
            } catch (InvalidExperiment $e) {
                throw ValidationException::withMessages(['action' => $e->getMessage()]);
            }
            $now = CarbonImmutable::now('UTC');
            $stretches = $experiment->ran();
            if ($stage === Stage::Running) {
                $stretches[] = [Moment::format($now), null];
            } elseif ($stretches !== []) {
                $stretches[count($stretches) - 1][1] ??= Moment::format($now);
            }
            $experiment->update([
                'stretches' => $stretches,
                'state' => $stage->value,
                'changed_at' => $now,
                'started_at' => $experiment->started_at ?? ($stage === Stage::Running ? $now : null),
                'ended_at' => $experiment->ended_at ?? ($stage === Stage::Ended ? $now : null),
            ]);
        });
        $this->publisher->publish($experiment->site);

        return $experiment->refresh()->load('goals');
    }

    private function onlyDrafts(Experiment $experiment, string $done): void
    {
        abort_unless($experiment->state === 'draft', 409, "Only a draft can be {$done}; this experiment is {$experiment->state}.");
    }

    /** @return array<string, mixed> */
    private static function columns(Declared $declared): array
    {
        return [
            'name' => $declared->name,
            'hypothesis' => $declared->hypothesis,
            'share' => $declared->share,
            'variants' => array_map(static fn (Arm $arm): array => $arm->toArray(), $declared->arms),
            'pages' => $declared->pages->rule->toArray(),
            'trigger' => $declared->trigger?->toArray(),
            'changed_at' => CarbonImmutable::now('UTC'),
        ];
    }

    /** Goals belong to the site: one with the same key is used again if it says the same, and refused if it does not. */
    private function attachGoals(Experiment $experiment, Declared $declared): void
    {
        $site = $experiment->site;
        $attached = [];
        foreach ($declared->goals as $position => $goal) {
            $kept = $site->goals()->where('key', $goal->key)->first() ?? $this->goals->create($site, $goal, $this->author());
            if (! self::same($kept->declared(), $goal)) {
                $others = DB::table('experiment_goal')->where('goal_id', $kept->id)->where('experiment_id', '<>', $experiment->id)->exists();
                if ($others) {
                    throw ValidationException::withMessages([
                        "goals.{$position}.name" => "Another experiment uses the goal \"{$kept->name}\" with other pages. Give this one another name.",
                    ]);
                }
                $this->goals->change($site, $kept, $goal, $this->author());
            }
            $attached[$kept->id] = ['role' => $goal->role, 'position' => $position];
        }
        $experiment->goals()->sync($attached);
    }

    private static function same(Goal $kept, Goal $given): bool
    {
        return $kept->in('primary')->toArray() == $given->in('primary')->toArray();
    }

    private function author(): string
    {
        return Auth::user()->name ?? 'Pellix';
    }
}

<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Logbook\Logbook;
use App\Measures\GoalStore;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\UnfinishedDraft;
use App\Models\User;
use App\Publishing\Publisher;
use App\ReadModel\ModelLock;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\DecisionRule;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\InvalidInput;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Readout\Visit;
use Pellix\Core\Vocabulary\Thing;

/**
 * Keeps experiments: each state of one is a revision, with its time and person. Publishes their site whenever visitors will
 * meet something else than before.
 */
final readonly class ExperimentStore
{
    public function __construct(private Publisher $publisher, private GoalStore $goals, private Revisions $revisions, private Logbook $logbook)
    {
    }

    public function create(Site $site, Declared $declared, ?User $author): Experiment
    {
        return DB::transaction(function () use ($site, $declared, $author): Experiment {
            Site::hold($site->id);
            // A draft that was deleted keeps its key: it can be had back.
            if ($site->experiments()->withTrashed()->where('key', $declared->key)->exists()) {
                throw ValidationException::withMessages(['key' => "The key \"{$declared->key}\" is taken by another experiment of this site."]);
            }
            $experiment = $site->experiments()->create([...self::columns($declared), 'key' => $declared->key, 'salt' => $declared->salt, 'state' => 'draft']);
            $this->attachGoals($experiment, $declared, $author);

            return $this->revisions->keep($experiment, $author);
        });
    }

    /** Changes what an experiment declares: of a draft everything, of one that has started what its visitors can be told apart by. */
    public function replace(Experiment $experiment, Declared $declared, ?User $author, ?int $revision = null): Experiment
    {
        $changed = DB::transaction(function () use ($experiment, $declared, $author, $revision): Experiment {
            ModelLock::take($experiment->site_id);
            Site::hold($experiment->site_id);
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            $this->refuseStale($experiment, $revision);
            $stage = Stage::from($experiment->state);
            abort_if($stage->isOver(), 409, "An experiment that is {$experiment->state} stays as it is.");
            if ($stage->hasStarted()) {
                try {
                    $experiment->declared()->mayBecome($declared);
                } catch (InvalidExperiment $e) {
                    throw ValidationException::withMessages([$e->field => $e->getMessage()]);
                }
                self::refuseWithoutGoals($declared, 'goals');
                Redirections::check($experiment, $declared, 'variants');
            }
            $columns = self::columns($declared);
            if ($stage->hasStarted()) {
                // Its stretch of the group stays where it is.
                unset($columns['group_from']);
            }
            $wasUnfinished = $experiment->unfinished()->delete() > 0;
            $experiment->fill($columns);
            if (! $experiment->isDirty($stage->hasStarted() ? ['share', 'variants', 'pages', 'audience', 'trigger', 'lifetime_days'] : ['pages', 'audience'])) {
                // What was seen of it is as good as before: a draft changes with each pause in typing, and a name at any time.
                $experiment->changed_at = $experiment->getOriginal('changed_at');
            }
            if ($stage->hasStarted()) {
                GroupRoom::of($experiment, 'share');
            }
            $experiment->save();
            $this->attachGoals($experiment, $declared, $author);
            $before = $experiment->revision;
            $this->revisions->keep($experiment, $author);
            if ($wasUnfinished && $experiment->revision === $before) {
                // Whole again as it was before: who has read it unfinished has read something else.
                $experiment->update(['revision' => $before + 1, 'changed_by' => $author->name ?? 'Pellix']);
            }

            return $experiment;
        });
        if ($changed->state === 'running') {
            $this->publisher->publish($changed->site);
        }

        return $changed;
    }

    /**
     * Keeps a draft that cannot be read as a whole yet, beside its last whole state.
     *
     * @param array<string, mixed> $given as it was written
     */
    public function keepUnfinished(Experiment $experiment, array $given, User $author, ?int $revision): Experiment
    {
        return DB::transaction(function () use ($experiment, $given, $author, $revision): Experiment {
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            $this->refuseStale($experiment, $revision);
            abort_unless($experiment->state === 'draft', 409, "This is no draft any more; it is {$experiment->state}.");
            if ($experiment->unfinished?->written != $given) {
                UnfinishedDraft::query()->updateOrCreate(['experiment_id' => $experiment->id], ['written' => $given]);
                $experiment->update(['changed_by' => $author->name, 'revision' => $experiment->revision + 1]);
            }

            return $experiment->load('goals', 'revisions', 'unfinished');
        });
    }

    /** Keeps what an experiment is planned with: made before it starts, or once while it runs where nobody had. */
    public function plan(Experiment $experiment, ?Plan $plan, User $author): void
    {
        DB::transaction(function () use ($experiment, $plan, $author): void {
            Site::hold($experiment->site_id);
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            $stage = Stage::from($experiment->state);
            abort_if($stage->isOver(), 409, "An experiment that is {$experiment->state} cannot be planned any more.");
            abort_if($stage->hasStarted() && $experiment->plan !== null, 409, 'It has started with its plan, and the plan stays: what is wanted later is no plan for what was seen already.');
            $days = $plan === null ? null : $plan->days ?? (($weeks = Outcome::of($plan)->weeks()) === null ? null : min(400, 7 * $weeks));
            if ($days !== null && ! $stage->hasStarted()) {
                $experiment->planned_days = $days;
                $experiment->unfinished?->update(['written' => [...$experiment->unfinished->written, 'planned_days' => $days]]);
            }
            $experiment->update(['plan' => $plan === null ? null : [...$plan->toArray(), 'made_by' => $author->name, 'made_at' => Moment::format(CarbonImmutable::now('UTC'))]]);
            $this->revisions->keep($experiment, $author);
            // By what a goal is compared may be another now.
            $experiment->site->recount();
        });
    }

    /** Gives what one person owns to another. @return int how many experiments */
    public function handOver(Site $site, User $from, User $to, ?User $author): int
    {
        return DB::transaction(function () use ($site, $from, $to, $author): int {
            $owned = $site->experiments()->where('owner', $from->name)->orderBy('id')->lockForUpdate()->get();
            foreach ($owned as $experiment) {
                $experiment->unfinished?->update(['written' => [...$experiment->unfinished->written, 'owner' => $to->name]]);
                $experiment->update(['owner' => $to->name]);
                $this->revisions->keep($experiment, $author);
            }

            return $owned->count();
        });
    }

    /**
     * Keeps how an experiment is to be decided: said before it starts, since whoever has seen figures chooses the rule that suits them.
     *
     * @param array<string, mixed>|null $rule null for by a person, with nothing else said
     *
     * @throws ValidationException at the member at fault
     */
    public function decisionRule(Experiment $experiment, ?array $rule, User $author): void
    {
        try {
            $read = DecisionRule::read($rule);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'by' : $e->field => $e->getMessage()]);
        }
        DB::transaction(function () use ($experiment, $read, $author): void {
            Site::hold($experiment->site_id);
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            abort_if(Stage::from($experiment->state)->hasStarted(), 409, 'It has started with its rule, and the rule stays: what is chosen later is chosen by what was seen already.');
            $goals = [...$experiment->goals->pluck('key')->all(), ...array_column(Visit::cases(), 'value')];
            foreach (['margins' => array_keys($read->margins), 'caps' => array_keys($read->caps), 'lower' => $read->lower] as $member => $keys) {
                foreach (array_diff(array_map(strval(...), $keys), $goals) as $unknown) {
                    throw ValidationException::withMessages([$member => "The experiment has no goal \"{$unknown}\"."]);
                }
            }
            $experiment->update(['decision' => $read->isEmpty() ? null : $read->toArray()]);
            $this->revisions->keep($experiment, $author);
            $experiment->site->recount();
        });
    }

    /** Somebody else may have changed it since the sender has read it: nobody's work is lost unseen. */
    private function refuseStale(Experiment $experiment, ?int $revision): void
    {
        if ($revision !== null && $revision !== $experiment->revision) {
            abort(412, ($experiment->changed_by ?? 'Somebody')." has changed this experiment meanwhile. Look at it as it is now (revision {$experiment->revision}), and change it again.");
        }
    }

    /** @throws ValidationException */
    public static function refuseWithoutGoals(Declared $declared, string $field): void
    {
        if ($declared->goals === []) {
            throw ValidationException::withMessages([$field => 'Name a goal first: without one nobody could ever tell which variant did better.']);
        }
    }

    /** Puts a draft aside; it can be had back. */
    public function delete(Experiment $experiment): void
    {
        abort_unless($experiment->state === 'draft', 409, "Only a draft can be deleted; this experiment is {$experiment->state}.");
        DB::transaction(function () use ($experiment): void {
            Site::hold($experiment->site_id);
            $experiment->delete();
            $experiment->site->recount();
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, 'deleted', subject: $experiment);
        });
    }

    /** Has a deleted draft back. */
    public function restore(Experiment $experiment): Experiment
    {
        DB::transaction(function () use ($experiment): void {
            Site::hold($experiment->site_id);
            $experiment->restore();
            $experiment->site->recount();
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, 'restored', subject: $experiment);
        });

        return $experiment->load('goals', 'revisions');
    }

    /**
     * A new draft that declares what an experiment declares, or what it declared at a revision.
     *
     * @param int|null $revision null for the newest
     */
    public function duplicate(Experiment $experiment, ?int $revision, User $author): Experiment
    {
        $from = $revision === null ? null : $experiment->revisions->firstWhere('number', $revision);
        abort_if($revision !== null && $from === null, 404, "There is no revision {$revision}.");
        $name = mb_substr($revision === null ? "{$experiment->name} (copy)" : "{$experiment->name} (as of revision {$revision})", 0, 120);
        $json = [...($from->declared ?? $experiment->declaration()), 'name' => $name, 'key' => WrittenExperiment::freeKey($experiment->site, $name), 'salt' => Str::lower(Str::random(20))];
        // What was given to the experiment when it started, or planned for it, is not the copy's.
        unset($json['group']['from'], $json['plan']);
        try {
            $declared = Declared::read(self::withSiteGoals($experiment->site, $json), true);
        } catch (InvalidInput $e) {
            abort(409, "It cannot be copied: {$e->field}: {$e->getMessage()}");
        }

        return $this->create($experiment->site, $declared, $author);
    }

    /**
     * Goals as the site has them now: a revision may name some that were changed since, or are gone.
     *
     * @param array<string, mixed> $json
     *
     * @return array<string, mixed>
     */
    private static function withSiteGoals(Site $site, array $json): array
    {
        $now = $site->goals()->whereIn('key', array_column($json['goals'] ?? [], 'key'))->get()->keyBy('key');
        $json['goals'] = array_map(static fn (array $goal): array => isset($now[$goal['key']]) ? [...$now[$goal['key']]->definition, 'role' => $goal['role'] ?? 'primary'] : $goal, $json['goals'] ?? []);

        return $json;
    }

    /** @return array<string, mixed> */
    private static function columns(Declared $declared): array
    {
        return [
            'name' => $declared->name,
            'hypothesis' => $declared->hypothesis->text,
            'hypothesis_parts' => $declared->hypothesis->parts === [] ? null : $declared->hypothesis->parts,
            'owner' => $declared->owner,
            'notes' => $declared->notes,
            'labels' => $declared->labels === [] ? null : $declared->labels,
            'kind' => $declared->kind,
            'unit' => $declared->unit,
            'share' => $declared->share,
            'variants' => array_map(static fn (DeclaredVariant $variant): array => $variant->toArray(), $declared->variants),
            'pages' => $declared->pages->rule->toArray(),
            'audience' => $declared->audience?->toArray(),
            'trigger' => $declared->trigger?->toArray(),
            'lifetime_days' => $declared->lifetimeDays,
            'planned_days' => $declared->plannedDays,
            'plan' => $declared->plan?->toArray(),
            'decision' => $declared->decision->isEmpty() ? null : $declared->decision->toArray(),
            'group_key' => $declared->group?->key,
            'group_from' => $declared->group?->from,
            'changed_at' => CarbonImmutable::now('UTC'),
        ];
    }

    /** Goals belong to the site: one with the same key is used again if it says the same, and refused if it does not. */
    private function attachGoals(Experiment $experiment, Declared $declared, ?User $author): void
    {
        $site = $experiment->site;
        $attached = [];
        foreach ($declared->goals as $position => $goal) {
            $kept = $site->goals()->where('key', $goal->key)->first() ?? $this->goals->create($site, $goal, $author);
            if (! self::same($kept->declared(), $goal)) {
                $others = DB::table('experiment_goal')->where('goal_id', $kept->id)->where('experiment_id', '<>', $experiment->id)->exists();
                if ($others) {
                    throw ValidationException::withMessages([
                        "goals.{$position}.name" => "Another experiment uses the goal \"{$kept->name}\" with other pages. Give this one another name.",
                    ]);
                }
                $this->goals->change($site, $kept, $goal, $author);
            }
            $attached[$kept->id] = ['role' => $goal->role, 'position' => $position];
        }
        $experiment->goals()->sync($attached);
    }

    private static function same(Goal $kept, Goal $given): bool
    {
        return $kept->in('primary')->toArray() == $given->in('primary')->toArray();
    }
}

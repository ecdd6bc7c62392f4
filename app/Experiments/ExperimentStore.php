<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\GoalStore;
use App\Models\Experiment;
use App\Models\ExperimentRevision;
use App\Models\Site;
use App\Models\UnfinishedDraft;
use App\Models\User;
use App\Publishing\Publisher;
use App\ReadModel\Arrivals;
use App\ReadModel\ModelLock;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\InvalidInput;
use Pellix\Core\Planning\Plan;

/**
 * Keeps experiments: each state of one is a revision, with its time and person. Publishes their site whenever visitors will
 * meet something else than before.
 */
final readonly class ExperimentStore
{
    /** Changes of a draft by one person, so close to one another, are one revision. */
    private const ONE_GO_MINUTES = 10;

    public function __construct(private Publisher $publisher, private GoalStore $goals)
    {
    }

    public function create(Site $site, Declared $declared, ?User $author): Experiment
    {
        return DB::transaction(function () use ($site, $declared, $author): Experiment {
            if ($site->experiments()->where('key', $declared->key)->exists()) {
                throw ValidationException::withMessages(['key' => "The key \"{$declared->key}\" is taken by another experiment of this site."]);
            }
            $experiment = $site->experiments()->create([...self::columns($declared), 'key' => $declared->key, 'salt' => $declared->salt, 'state' => 'draft']);
            $this->attachGoals($experiment, $declared, $author);

            return $this->revise($experiment, $author);
        });
    }

    /** Changes what an experiment declares: of a draft everything, of one that has started what its visitors can be told apart by. */
    public function replace(Experiment $experiment, Declared $declared, ?User $author, ?int $revision = null): Experiment
    {
        $changed = DB::transaction(function () use ($experiment, $declared, $author, $revision): Experiment {
            ModelLock::take($experiment->site_id);
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
            if (! $stage->hasStarted() && ! $experiment->isDirty(['pages', 'audience'])) {
                // What was seen of its pages is as good as before: a draft changes with each pause in typing.
                $experiment->changed_at = $experiment->getOriginal('changed_at');
            }
            if ($stage->hasStarted()) {
                GroupRoom::of($experiment, 'share');
            }
            $experiment->save();
            $this->attachGoals($experiment, $declared, $author);
            $before = $experiment->revision;
            $this->revise($experiment, $author);
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
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            $stage = Stage::from($experiment->state);
            abort_if($stage->isOver(), 409, "An experiment that is {$experiment->state} cannot be planned any more.");
            abort_if($stage->hasStarted() && $experiment->plan !== null, 409, 'It has started with its plan, and the plan stays: what is wanted later is no plan for what was seen already.');
            $experiment->update(['plan' => $plan === null ? null : [...$plan->toArray(), 'made_by' => $author->name, 'made_at' => Moment::format(CarbonImmutable::now('UTC'))]]);
            $this->revise($experiment, $author);
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
    private static function refuseWithoutGoals(Declared $declared, string $field): void
    {
        if ($declared->goals === []) {
            throw ValidationException::withMessages([$field => 'Name a goal first: without one nobody could ever tell which variant did better.']);
        }
    }

    public function delete(Experiment $experiment): void
    {
        abort_unless($experiment->state === 'draft', 409, "Only a draft can be deleted; this experiment is {$experiment->state}.");
        DB::transaction(static function () use ($experiment): void {
            $experiment->delete();
            $experiment->site->recount();
        });
    }

    public function move(Experiment $experiment, string $action, ?User $author): Experiment
    {
        DB::transaction(function () use ($experiment, $action, $author): void {
            ModelLock::take($experiment->site_id);
            // Whoever presses the button second finds it already moved.
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            try {
                $stage = Stage::from($experiment->state)->after($action);
            } catch (InvalidExperiment $e) {
                throw ValidationException::withMessages(['action' => $e->getMessage()]);
            }
            if ($action === 'start' || $action === 'resume') {
                $this->checkStart($experiment);
            }
            $now = CarbonImmutable::now('UTC');
            $experiment->update([
                ...($stage === Stage::Running ? ['group_from' => GroupRoom::of($experiment, 'action')] : []),
                'state' => $stage->value,
                'changed_at' => $now,
                'started_at' => $experiment->started_at ?? ($stage === Stage::Running ? $now : null),
                'ended_at' => $experiment->ended_at ?? ($stage === Stage::Ended ? $now : null),
            ]);
            $this->revise($experiment, $author);
        });
        $this->publisher->publish($experiment->site);

        return $experiment->refresh()->load('goals');
    }

    /** @throws ValidationException where something keeps it from running */
    private function checkStart(Experiment $experiment): void
    {
        if ($experiment->unfinished()->exists()) {
            throw ValidationException::withMessages(['action' => 'The draft is not finished: what is missing is marked on its chain.']);
        }
        try {
            $declared = Declared::read([...$experiment->declaration(), 'epochs' => []], true);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['action' => "It cannot start: {$e->field}: {$e->getMessage()}"]);
        }
        self::refuseWithoutGoals($declared, 'action');
        Redirections::check($experiment, $declared, 'action');
    }

    /** Keeps the present state as a revision, where it differs from the last one, and lets the workers know. */
    private function revise(Experiment $experiment, ?User $author): Experiment
    {
        $experiment->load('goals', 'revisions');
        $last = $experiment->revisions->last();
        $declared = $experiment->declaration();
        $changed = $last === null ? [] : self::differences($last->declared, $declared);
        if ($last !== null && $last->stage !== $experiment->state) {
            $changed[] = 'state';
        }
        if ($last !== null && $changed === []) {
            return $experiment;
        }
        $name = $author->name ?? 'Pellix';
        $experiment->update(['revision' => $experiment->revision + 1, 'changed_by' => $name]);
        $state = ['number' => $experiment->revision, 'from' => $experiment->state === 'draft' ? CarbonImmutable::now('UTC') : $experiment->changed_at, 'stage' => $experiment->state, 'declared' => $declared];
        if ($last !== null && self::goesOn($last, $experiment, $author)) {
            // A draft is kept while it is written: what somebody writes in one go is one revision.
            $last->update([...$state, 'changed' => array_values(array_unique([...(array) $last->changed, ...$changed]))]);
        } else {
            $experiment->revisions()->create([...$state, 'changed' => $changed, 'author_id' => $author?->id, 'author' => $name]);
        }
        $experiment->site->recount();
        if ($experiment->state !== 'draft') {
            self::countAgain($experiment);
        }

        return $experiment->load('revisions');
    }

    private static function goesOn(ExperimentRevision $last, Experiment $experiment, ?User $author): bool
    {
        return $experiment->state === 'draft' && $last->stage === 'draft' && $author !== null && $last->author_id === $author->id
            && $last->from > CarbonImmutable::now('UTC')->subMinutes(self::ONE_GO_MINUTES);
    }

    /** Has those visitors counted again of whom there are events at or after the change, counted by what was declared before. */
    private static function countAgain(Experiment $experiment): void
    {
        // A visitor's clock may be ahead: events of the next minutes may have been counted already.
        $since = $experiment->changed_at->subSeconds(ClockShift::TOLERATED_SECONDS);
        // Read first, and written then: a statement that does both would keep the collector from writing meanwhile.
        $visitors = DB::table('events')->where('site_id', $experiment->site_id)
            ->where('received', '>=', $since->format('Y-m-d H:i:s.v'))
            ->where('time', '>=', $experiment->changed_at->format('Y-m-d H:i:s.v'))
            ->distinct()->orderBy('visitor')->pluck('visitor')->map(strval(...))->all();
        Arrivals::again($experiment->site_id, $visitors, $experiment->changed_at->format('Y-m-d H:i:s.v'));
    }

    /**
     * @param array<string, mixed> $before
     * @param array<string, mixed> $now
     *
     * @return list<string>
     */
    private static function differences(array $before, array $now): array
    {
        $names = array_unique([...array_keys($before), ...array_keys($now)]);

        // JSON objects may come back with their members in another order.
        return array_values(array_filter($names, static fn (string $name): bool => ($before[$name] ?? null) != ($now[$name] ?? null)));
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

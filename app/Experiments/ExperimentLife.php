<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use App\Publishing\Publisher;
use App\ReadModel\ModelLock;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\InvalidInput;

/** Moves experiments through their life: starts, pauses and ends them, and sees to what visitors meet then. */
final readonly class ExperimentLife
{
    private const PAST = ['start' => 'started', 'schedule' => 'scheduled', 'unschedule' => 'taken back', 'pause' => 'paused', 'resume' => 'resumed', 'end' => 'ended', 'archive' => 'archived'];

    public function __construct(private Publisher $publisher, private Revisions $revisions, private ReadyLists $ready)
    {
    }

    /**
     * @param User|null   $author null for what is done by itself, at its time
     * @param string|null $reason why it is started though something speaks against it
     * @param string|null $keep   key of the variant that everybody is served when it has ended
     *
     * @throws ValidationException
     */
    public function move(Experiment $experiment, string $action, ?User $author, ?string $reason = null, ?string $keep = null, string $note = ''): Experiment
    {
        $blockers = in_array($action, ['start', 'schedule'], true) ? $this->ready->blockers($experiment) : [];
        DB::transaction(function () use ($experiment, $action, $author, $reason, $keep, $note, $blockers): void {
            ModelLock::take($experiment->site_id);
            Site::hold($experiment->site_id);
            // Whoever presses the button second finds it already moved.
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            try {
                $stage = Stage::from($experiment->state)->after($action);
            } catch (InvalidExperiment $e) {
                throw ValidationException::withMessages(['action' => $e->getMessage()]);
            }
            if (in_array($action, ['start', 'schedule', 'resume'], true)) {
                self::checkStart($experiment);
            }
            $now = CarbonImmutable::now('UTC');
            if ($action === 'schedule' && ($experiment->start_at === null || $experiment->start_at <= $now)) {
                throw ValidationException::withMessages(['start' => 'Say when it is to start: a time that is still to come.']);
            }
            if ($action === 'archive' && $experiment->kept_variant !== null) {
                throw ValidationException::withMessages(['action' => 'It still serves a variant to everybody. Stop that first.']);
            }
            $experiment->fill(self::startedOver($action, $blockers, $reason, $author, $experiment, $now));
            $experiment->fill([
                ...($stage === Stage::Running ? ['group_from' => GroupRoom::of($experiment, 'action'), 'held_up' => null] : []),
                ...($stage === Stage::Ended ? self::kept($experiment, $keep, $now) : []),
                'state' => $stage->value,
                'changed_at' => $now,
                'started_at' => $experiment->started_at ?? ($stage === Stage::Running ? $now : null),
                'ended_at' => $experiment->ended_at ?? ($stage === Stage::Ended ? $now : null),
            ])->save();
            $this->revisions->keep($experiment, $author, self::PAST[$action], trim($note.($blockers !== [] && $reason !== null ? " Over what spoke against it: {$reason}" : '')));
        });
        if (! in_array($action, ['schedule', 'unschedule'], true)) {
            $this->publisher->publish($experiment->site);
        }

        return $experiment->refresh()->load('goals');
    }

    /** Serves another variant to everybody after the end, or none any more. */
    public function serve(Experiment $experiment, ?string $variant, User $author): Experiment
    {
        DB::transaction(function () use ($experiment, $variant, $author): void {
            Site::hold($experiment->site_id);
            $experiment = $experiment->newQuery()->lockForUpdate()->findOrFail($experiment->id);
            abort_unless($experiment->state === 'ended', 409, "Only an experiment that has ended serves one variant to everybody; this one is {$experiment->state}.");
            $experiment->update(self::kept($experiment, $variant, CarbonImmutable::now('UTC')));
            $this->revisions->note($experiment, $author, $variant === null ? 'no longer served' : 'kept', $variant === null ? '' : "Serves {$variant} to everybody.");
        });
        $this->publisher->publish($experiment->site);

        return $experiment->refresh()->load('goals');
    }

    /** @return array{kept_variant: string|null, kept_since: CarbonImmutable|null} */
    private static function kept(Experiment $experiment, ?string $variant, CarbonImmutable $now): array
    {
        if ($variant !== null && ! in_array($variant, array_column($experiment->variants, 'key'), true)) {
            throw ValidationException::withMessages(['keep' => "There is no variant \"{$variant}\"."]);
        }

        return ['kept_variant' => $variant, 'kept_since' => $variant === null ? null : $now];
    }

    /**
     * What spoke against the start, and the reason why it was started all the same: kept as long as it runs.
     *
     * @param list<string> $blockers
     *
     * @return array<string, mixed>
     */
    private static function startedOver(string $action, array $blockers, ?string $reason, ?User $author, Experiment $experiment, CarbonImmutable $now): array
    {
        if (! in_array($action, ['start', 'schedule'], true)) {
            return [];
        }
        // A reason that was given when it was scheduled holds for the start.
        $reason = trim($reason ?? '') !== '' ? trim((string) $reason) : ($author === null ? $experiment->started_over['reason'] ?? 'It was scheduled before this came up.' : '');
        if ($blockers !== [] && mb_strlen($reason) < 3) {
            throw ValidationException::withMessages(['reason' => 'Something speaks against the start: '.implode(' ', $blockers).' Mend it, or say why it is to start all the same.']);
        }

        return ['started_over' => $blockers === [] ? null : ['reason' => mb_substr($reason, 0, 500), 'by' => $author->name ?? $experiment->started_over['by'] ?? 'Pellix', 'at' => $now->format('Y-m-d\TH:i:s\Z'), 'blockers' => $blockers]];
    }

    /** @throws ValidationException where something keeps it from running */
    private static function checkStart(Experiment $experiment): void
    {
        if ($experiment->unfinished()->exists()) {
            throw ValidationException::withMessages(['action' => 'The draft is not finished: what is missing is marked on its chain.']);
        }
        try {
            $declared = $experiment->declaredAnew();
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['action' => "It cannot start: {$e->field}: {$e->getMessage()}"]);
        }
        ExperimentStore::refuseWithoutGoals($declared, 'action');
        Redirections::check($experiment, $declared, 'action');
    }
}

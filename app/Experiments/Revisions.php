<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Logbook\Logbook;
use App\Models\Experiment;
use App\Models\ExperimentRevision;
use App\Models\User;
use App\ReadModel\Arrivals;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Formats\Same;
use Pellix\Core\Vocabulary\Thing;

/** Keeps each state of an experiment as a revision, with its time and person, and has the workers count by it. */
final readonly class Revisions
{
    /** What may change at any time, and changes nothing that anybody meets or counts. */
    public const FREE = ['name', 'hypothesis', 'hypothesis_parts', 'owner', 'notes', 'labels', 'planned_days', 'plan', 'decision'];

    public function __construct(private Logbook $logbook)
    {
    }

    /** Keeps the present state as a revision, where it differs from the last one, and lets the workers know. */
    public function keep(Experiment $experiment, ?User $author, string $event = 'changed', string $note = ''): Experiment
    {
        $experiment->load('goals', 'revisions');
        $last = $experiment->revisions->last();
        $declared = $experiment->declaration();
        $changed = $last === null ? [] : self::differences($last->declared, $declared);
        $this->noteFields($experiment, $author, $last->declared ?? [], $declared, $last === null ? 'created' : $event, $note);
        if ($last !== null && $last->stage !== $experiment->state) {
            $changed[] = 'state';
        }
        if ($last !== null && $changed === []) {
            return $experiment;
        }
        $name = $author->name ?? 'Pellix';
        $experiment->update(['revision' => $experiment->revision + 1, 'changed_by' => $name]);
        $state = ['number' => $experiment->revision, 'from' => self::from($experiment, $last), 'stage' => $experiment->state, 'declared' => $declared];
        if ($last !== null && self::goesOn($last, $experiment, $author)) {
            // A draft is kept while it is written: what somebody writes in one go is one revision.
            $last->update([...$state, 'changed' => array_values(array_unique([...(array) $last->changed, ...$changed]))]);
        } else {
            $experiment->revisions()->create([...$state, 'changed' => $changed, 'author_id' => $author?->id, 'author' => $name]);
        }
        $experiment->site->recount();
        if (Stage::from($experiment->state)->hasStarted() && array_diff($changed, self::FREE) !== []) {
            self::countAgain($experiment);
        }

        return $experiment->load('revisions');
    }

    /** What visitors meet is another from `changed_at` on; what is changed beside that, from now on. */
    private static function from(Experiment $experiment, ?ExperimentRevision $last): CarbonImmutable
    {
        return ! Stage::from($experiment->state)->hasStarted() || ($last !== null && $experiment->changed_at <= $last->from) ? CarbonImmutable::now('UTC') : $experiment->changed_at;
    }

    private static function goesOn(ExperimentRevision $last, Experiment $experiment, ?User $author): bool
    {
        return $experiment->state === 'draft' && $last->stage === 'draft' && $author !== null && $last->author_id === $author->id
            && $last->from > CarbonImmutable::now('UTC')->subMinutes(Logbook::ONE_GO_MINUTES);
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

        return array_values(array_filter($names, static fn (string $name): bool => ! Same::json($before[$name] ?? null, $now[$name] ?? null)));
    }

    /**
     * Whether visitors, or what is counted of them, would notice that an experiment declares something else.
     *
     * @param array<string, mixed> $before
     */
    public static function reachVisitors(array $before, Declared $declared): bool
    {
        return array_diff(self::differences(array_diff_key($before, ['group' => 0]), array_diff_key($declared->toArray(), ['epochs' => 0, 'start' => 0, 'end' => 0, 'group' => 0])), self::FREE) !== [];
    }

    /** Writes down what became of it where nothing that it declares has changed. */
    public function note(Experiment $experiment, ?User $author, string $event, string $note = ''): void
    {
        $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, $event, [], $author, $note, $experiment);
    }

    /**
     * Writes down what has changed, field by field.
     *
     * @param array<string, mixed> $before
     * @param array<string, mixed> $now
     */
    public function noteFields(Experiment $experiment, ?User $author, array $before, array $now, string $event = 'changed', string $note = ''): void
    {
        // What it is made of is no change of the thing: its salt and version say nothing to a reader.
        $changes = Differences::between(array_diff_key($before, ['pellix' => 0, 'salt' => 0]), array_diff_key($now, ['pellix' => 0, 'salt' => 0]));
        if ($changes !== [] || $event !== 'changed') {
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, $event, $changes, $author, $note, $experiment);
        }
    }
}

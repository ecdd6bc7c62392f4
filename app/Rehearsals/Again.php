<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Experiment;
use App\Models\Finding;
use App\Models\Rehearsal;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rehearsal\Due;

/** Rehearsals that are held by themselves while an experiment runs: at a time of the day, and after a publication. What breaks becomes a finding. */
final readonly class Again
{
    private const LONGEST_IDENTITY = 200;

    public function __construct(private Rehearsals $rehearsals)
    {
    }

    /** @return array{daily_at: string|null, after_publication: bool} */
    public function plan(Experiment $experiment): array
    {
        $kept = DB::table('rehearsal_plans')->where('experiment_id', $experiment->id)->first();

        return ['daily_at' => $kept?->daily_at, 'after_publication' => (bool) ($kept->after_publication ?? false)];
    }

    /** @param string|null $dailyAt HH:MM in the time zone of the site */
    public function keep(Experiment $experiment, ?string $dailyAt, bool $afterPublication, User $author): void
    {
        DB::table('rehearsal_plans')->upsert([['experiment_id' => $experiment->id, 'daily_at' => $dailyAt, 'after_publication' => $afterPublication, 'by' => $author->name]], ['experiment_id']);
    }

    /** Asks for what is due now. */
    public function due(CarbonImmutable $now): void
    {
        $plans = DB::table('rehearsal_plans')->get()->keyBy('experiment_id');
        foreach (Experiment::query()->whereIn('id', $plans->keys())->where('state', 'running')->whereNull('deleted_at')->with('site')->get() as $experiment) {
            $why = $this->why($experiment, (object) $plans[$experiment->id], $now);
            try {
                $why === null || $this->rehearsals->ask($experiment, $plans[$experiment->id]->by, why: $why);
            } catch (ValidationException) {
                // One is under way: it is looked at again in a minute.
            } catch (\Throwable $e) {
                // One that cannot be rehearsed keeps no other from it.
                report($e);
            }
        }
    }

    private function why(Experiment $experiment, object $plan, CarbonImmutable $now): ?string
    {
        $site = $experiment->site;
        $published = DB::table('publications')->where('site_id', $site->id)->where('number', $site->published_number)->value('published_at');
        $number = $experiment->rehearsals()->latest('id')->value('configuration');
        $planned = $experiment->rehearsals()->where('why', 'planned')->latest('id')->value('asked_at');

        return (new Due($plan->daily_at, (bool) $plan->after_publication))->why(
            $now->setTimezone($site->time_zone),
            (int) $site->published_number,
            $published === null ? null : CarbonImmutable::parse($published, 'UTC'),
            $number === null ? null : (int) $number,
            $planned === null ? null : CarbonImmutable::parse($planned, 'UTC'),
        );
    }

    /** What broke since the rehearsal before becomes a finding of the site; what works again mends it. */
    public function raise(Rehearsal $rehearsal): void
    {
        $experiment = $rehearsal->experiment;
        if ($experiment === null || $experiment->state !== 'running') {
            return;
        }
        $now = CarbonImmutable::now('UTC');
        $found = [];
        foreach (Report::allFindings($rehearsal) as $identity => $one) {
            // Cut as it is kept: otherwise a long one would be mended and found again each time.
            $one['severity'] !== 'blocker' || $found[mb_substr((string) $identity, 0, self::LONGEST_IDENTITY)] = $one;
        }
        $open = Finding::query()->where('experiment_id', $experiment->id)->whereIn('state', ['open', 'explained'])->get();
        foreach ($open as $one) {
            isset($found[$one->identity]) || $one->update(['state' => 'mended', 'note' => "Works again in the rehearsal of {$now->format('Y-m-d H:i')} UTC."]);
        }
        foreach (array_diff_key($found, $open->keyBy('identity')->all()) as $identity => $one) {
            Finding::query()->create([
                'site_id' => $rehearsal->site_id, 'experiment_id' => $experiment->id, 'identity' => (string) $identity, 'code' => "rehearsal.{$one['code']}", 'severity' => $one['severity'], 'link' => $one['link'],
                'message' => mb_strcut("{$experiment->name}: {$one['words']} {$one['cause']}", 0, 1000, 'UTF-8'), 'fix' => mb_strcut($one['next'], 0, 1000, 'UTF-8'), 'since' => $rehearsal->started_at ?? $now, 'state' => 'open',
            ]);
        }
    }
}

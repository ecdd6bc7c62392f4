<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use App\Models\Experiment;
use App\Models\Notice;
use App\Models\Site;
use App\Models\User;
use App\Notices\Deliveries;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Troubles;
use Pellix\Core\Audit\Watch;
use Pellix\Core\Audit\WatchDue;

/** Has running experiments audited every day and after every publication, and notes each new trouble once. */
final readonly class Watchman
{
    public function __construct(private Audits $audits, private Deliveries $deliveries)
    {
    }

    /** Asks for what is due now. */
    public function due(CarbonImmutable $now): void
    {
        foreach (Experiment::query()->where('state', 'running')->whereNotNull('started_at')->with('site')->cursor() as $experiment) {
            $why = $this->why($experiment, $now);
            try {
                $why === null || $this->audits->ofExperiment($experiment, $why === 'daily' ? 'the daily watch' : 'the watch over publications', $why);
            } catch (ValidationException) {
                // One is under way, or it cannot be read: it is looked at again in a minute.
            } catch (\Throwable $e) {
                // One that cannot be audited keeps no other from it.
                report($e);
            }
        }
    }

    /** @return 'daily'|'published'|null */
    private function why(Experiment $experiment, CarbonImmutable $now): ?string
    {
        $site = $experiment->site;
        $last = Audit::query()->where('experiment_id', $experiment->id)->whereIn('state', ['done', 'waiting', 'running', 'failed'])->latest('id')->value('asked_at');
        $last = $last === null ? null : CarbonImmutable::parse($last, 'UTC');
        $published = DB::table('publications')->where('site_id', $site->id)->where('number', $site->published_number)->value('published_at');

        return WatchDue::why($now->setTimezone($site->time_zone), $experiment->started_at, $last, $published === null ? null : CarbonImmutable::parse($published, 'UTC'));
    }

    /** Notes what an audit found of an experiment that runs: what is new, what is over, and what is back. */
    public function look(Audit $audit, Report $report, CarbonImmutable $now): void
    {
        $experiment = $audit->experiment;
        if ($experiment === null || $experiment->state !== 'running') {
            return;
        }
        DB::transaction(function () use ($audit, $experiment, $report, $now): void {
            $known = [];
            foreach (Notice::query()->where('experiment_id', $experiment->id)->lockForUpdate()->latest('id')->limit(200)->get() as $notice) {
                $known[$notice->id] = ['areas' => array_map(strval(...), $notice->areas), 'over' => $notice->over_at?->getTimestamp()];
            }
            $troubles = Troubles::next($known, Watch::alarms($report), Watch::present($report), $now->getTimestamp());
            foreach ($troubles->new as $alarm) {
                $notice = Notice::query()->create([
                    'site_id' => $audit->site_id, 'experiment_id' => $experiment->id, 'audit_id' => $audit->id, 'identity' => mb_strcut($alarm->finding->identity(), 0, 300, 'UTF-8'), 'code' => $alarm->finding->code->value,
                    'severity' => $alarm->finding->gravest()->value, 'message' => mb_strcut(mb_scrub($alarm->finding->message), 0, 1000, 'UTF-8'), 'areas' => $alarm->areas, 'at' => $now,
                ]);
                $this->deliveries->ofTrouble($experiment->site, $notice, $now);
            }
            foreach ($troubles->grown as $id => $areas) {
                Notice::query()->whereKey($id)->update(['areas' => json_encode($areas, JSON_THROW_ON_ERROR)]);
            }
            Notice::query()->whereIn('id', $troubles->over)->update(['over_at' => $now->format('Y-m-d H:i:s.v')]);
            Notice::query()->whereIn('id', $troubles->back)->update(['over_at' => null]);
        });
    }

    /** Up to when a person has seen what is new on a site; null for never. */
    public function looked(Site $site, User $person): ?CarbonImmutable
    {
        $at = DB::table('notice_looks')->where('user_id', $person->id)->where('site_id', $site->id)->value('at');

        return $at === null ? null : CarbonImmutable::parse($at, 'UTC');
    }

    public function seen(Site $site, User $person, CarbonImmutable $at): void
    {
        DB::table('notice_looks')->upsert([['user_id' => $person->id, 'site_id' => $site->id, 'at' => $at->format('Y-m-d H:i:s.v')]], ['user_id', 'site_id']);
    }
}

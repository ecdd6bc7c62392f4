<?php

namespace App\ReadModel;

use App\Models\Exclusion;
use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/**
 * Which goals and experiments are counted, and how far. When one is changed so that it counts something else, it is counted
 * anew beside the old figures, which stand until the new ones are there.
 */
final class Counts
{
    private const SWEPT = 5000;

    /** Begins to count what is new or was changed, and ends to count what is gone. */
    public function reconcile(Site $site): void
    {
        DB::transaction(function () use ($site): void {
            ModelLock::take($site->id);
            $wanted = [];
            foreach (Goal::query()->where('site_id', $site->id)->get() as $goal) {
                $wanted["goal {$goal->id}"] = [['goal' => array_diff_key($goal->definition, ['name' => 0]), 'minutes' => $site->session_minutes], null];
            }
            foreach (Experiment::query()->where('site_id', $site->id)->with('goals', 'revisions', 'site')->get() as $experiment) {
                $wanted["experiment {$experiment->id}"] = $this->ofExperiment($experiment);
            }
            $counted = DB::table('counts')->where('site_id', $site->id)->whereIn('state', ['current', 'building'])->orderBy('id')->get()->groupBy(static fn (object $count): string => "{$count->kind} {$count->subject_id}");
            foreach ($counted as $what => $counts) {
                isset($wanted[$what]) || DB::table('counts')->whereIn('id', $counts->pluck('id'))->update(['state' => 'old']);
            }
            foreach ($wanted as $what => [$definition, $since]) {
                $newest = $counted->get($what)?->last();
                // JSON objects may come back with their members in another order.
                if ($newest === null || json_decode($newest->definition, true) != $definition) {
                    $this->begin($site, $what, $definition, $since, $newest);
                }
            }
        });
    }

    /** The counts that are being made, with how far they are. */
    public function isBuilding(Site $site): bool
    {
        return DB::table('counts')->where('site_id', $site->id)->where('state', 'building')->exists();
    }

    /** Deletes a bounded number of rows of counts that nobody reads any more. @return bool whether there is more to do */
    public function sweep(Site $site): bool
    {
        $old = DB::table('counts')->where('site_id', $site->id)->where('state', 'old')->orderBy('id')->first();
        if ($old === null) {
            return false;
        }
        foreach (['goal_hits', 'participations', 'figures', 'goal_hours', 'readout_sums', 'readout_segments'] as $table) {
            if (DB::table($table)->where('count_id', $old->id)->limit(self::SWEPT)->delete() === self::SWEPT) {
                return true;
            }
        }
        $own = DB::table('counts')->where('site_id', $site->id)->where('kind', 'experiment')->pluck('id');
        DB::table('figures')->whereIn('count_id', $own)->where('figure', 'like', "goal.{$old->id}.%")->delete();
        DB::table('readout_sums')->whereIn('count_id', $own)->where('item', UnitBook::item((int) $old->id))->delete();
        DB::table('counts')->where('id', $old->id)->delete();

        return true;
    }

    /** @return array{array<string, mixed>, CarbonImmutable|null} what is counted of an experiment, and since when it matters */
    private function ofExperiment(Experiment $experiment): array
    {
        $began = $experiment->started_at;
        $definition = [
            'variants' => array_column($experiment->variants, 'key'),
            'unit' => $experiment->unit,
            'goals' => $experiment->goals->modelKeys(),
            'started' => $began?->format('U.v'),
            // What a readout counts by: days of the site's calendar, what is left out, and how it is to be decided.
            'readout' => [$experiment->site->time_zone, Exclusion::active($experiment), $experiment->decision, array_intersect_key((array) $experiment->plan, ['goal' => 0, 'measure' => 0, 'mean' => 0])],
            // What is changed after the start counts from then on, and needs no new count.
            ...($began === null ? ['pages' => $experiment->pages, 'audience' => $experiment->audience, 'changed' => $experiment->changed_at->format('U.v')] : []),
        ];

        return [$definition, Definitions::periods($experiment)->begin() === null ? null : CarbonImmutable::instance(Definitions::periods($experiment)->begin())];
    }

    /** @param array<string, mixed> $definition */
    private function begin(Site $site, string $what, array $definition, ?CarbonImmutable $since, ?object $newest): void
    {
        [$kind, $subject] = explode(' ', $what);
        if ($newest !== null && $newest->state === 'building') {
            DB::table('counts')->where('id', $newest->id)->update(['state' => 'old']);
        }
        $visitors = DB::table('visitors')->where('site_id', $site->id)->when($since !== null, static fn ($q) => $q->where('last', '>=', $since->format('Y-m-d H:i:s.v')));
        $total = $visitors->count();
        $id = DB::table('counts')->insertGetId([
            'site_id' => $site->id, 'kind' => $kind, 'subject_id' => $subject, 'state' => 'building', 'definition' => json_encode($definition, JSON_THROW_ON_ERROR),
            'since' => $since?->format('Y-m-d H:i:s.v'), 'total' => $total, 'started_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'),
        ]);
        // What is waiting may be of visitors who are not known yet: of an experiment that ended long ago they are counted just now.
        if ($total === 0 && ! DB::table('arrivals')->where('site_id', $site->id)->exists()) {
            $this->finish($id);
        }
    }

    public function finish(int $id): void
    {
        $count = DB::table('counts')->where('id', $id)->first();
        DB::table('counts')->where('site_id', $count->site_id)->where('kind', $count->kind)->where('subject_id', $count->subject_id)->where('state', 'current')->update(['state' => 'old']);
        DB::table('counts')->where('id', $id)->update(['state' => 'current', 'done' => $count->total]);
    }
}

<?php

namespace App\ReadModel;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/**
 * Throws the figures of a site away and makes them again from its events, part by part, while events go on arriving: those
 * of visitors who were reached already are taken in as ever, those of the others when their turn comes.
 */
final class Rebuild
{
    private const CLEARED = 20_000;
    private const VISITORS = 2000;

    /** Tables with a column `site_id`, and those that hang on a count. */
    private const OF_SITE = ['volumes', 'page_volumes', 'view_hours', 'configurations_met', 'visitors', 'participations', 'goal_hits'];
    private const OF_COUNT = ['figures', 'goal_hours', 'readout_sums', 'readout_segments'];

    private ?Definitions $definitions = null;

    public function __construct(private readonly Gatherer $gatherer, private readonly Counts $counts)
    {
    }

    public function begin(Site $site): void
    {
        DB::transaction(function () use ($site): void {
            ModelLock::take($site->id);
            DB::table('model_states')->where('site_id', $site->id)->update([
                // Nothing is taken in while the old figures are cleared away: no visitor comes before the empty text.
                'state' => 'rebuilding', 'position' => '', 'done' => 0, 'total' => 0, 'since' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'),
            ]);
        });
    }

    /** Works on for a bounded time. @return bool whether there is more to do */
    public function work(Site $site): bool
    {
        $state = DB::table('model_states')->where('site_id', $site->id)->first();
        if ($state === null || $state->state !== 'rebuilding') {
            return false;
        }
        if ($state->position === '' && (int) $state->total === 0) {
            return $this->clear($site);
        }

        return $this->visitors($site);
    }

    private function clear(Site $site): bool
    {
        foreach (self::OF_SITE as $table) {
            if (DB::table($table)->where('site_id', $site->id)->limit(self::CLEARED)->delete() === self::CLEARED) {
                return true;
            }
        }
        $counts = DB::table('counts')->where('site_id', $site->id)->pluck('id');
        foreach (self::OF_COUNT as $table) {
            if (DB::table($table)->whereIn('count_id', $counts)->limit(self::CLEARED)->delete() === self::CLEARED) {
                return true;
            }
        }
        DB::table('addresses')->where('site_id', $site->id)->update(['first' => '9999-12-31']);
        $this->counts->reconcile($site);
        DB::transaction(function () use ($site): void {
            ModelLock::take($site->id);
            foreach (DB::table('counts')->where('site_id', $site->id)->where('state', 'building')->orderBy('id')->pluck('id') as $id) {
                $this->counts->finish((int) $id);
            }
            DB::table('counts')->where('site_id', $site->id)->update(['examples' => '[]']);
            $this->rejected($site);
            $estimate = (int) DB::selectOne('select count(distinct visitor) as n from events where site_id = ?', [$site->id])->n;
            DB::table('model_states')->where('site_id', $site->id)->update(['total' => max(1, $estimate)]);
        });

        return true;
    }

    /** Rejected events have no visitor: they are counted at once. */
    private function rejected(Site $site): void
    {
        $volumes = new Volumes($site->id, []);
        $waiting = DB::table('arrivals')->where('site_id', $site->id)->where('kind', 'rejected')->pluck('id')->all();
        $kept = 'select reason, date_format(received, "%Y-%m-%d %H") as hour, count(*) as n, max(received) as last from rejected_events where site_id = ? group by reason, hour';
        // Of most of them, where there are many, only the number is kept.
        foreach (DB::select("{$kept} union all select reason, date_format(hour, \"%Y-%m-%d %H\"), n, last from unkept_events where site_id = ?", [$site->id, $site->id]) as $row) {
            $volumes->reject([$row->reason => (int) $row->n], $row->last);
        }
        $volumes->write();
        Arrivals::remove($waiting);
    }

    private function visitors(Site $site): bool
    {
        if ($this->definitions === null || $this->definitions->site->id !== $site->id || $this->definitions->version !== $site->definitions) {
            $this->definitions = Definitions::of($site, true);
        }
        $definitions = $this->definitions;

        return DB::transaction(function () use ($site, $definitions): bool {
            $state = ModelLock::take($site->id);
            $visitors = array_column(DB::select('select distinct visitor from events force index (primary) where site_id = ? and visitor > ? order by visitor limit '.self::VISITORS, [$site->id, $state->position]), 'visitor');
            if ($visitors === []) {
                DB::table('model_states')->where('site_id', $site->id)->update(['state' => 'current', 'position' => '', 'done' => $state->total]);

                return false;
            }
            // Seen together with the events: what arrives after this look stays, and is taken in as ever.
            $places = rtrim(str_repeat('?,', count($visitors)), ',');
            $waiting = array_column(DB::select("select id from arrivals where site_id = ? and visitor in ({$places})", [$site->id, ...$visitors]), 'id');
            $this->gatherer->takeWhole($site, $definitions, $visitors);
            Arrivals::remove($waiting);
            DB::table('model_states')->where('site_id', $site->id)->update(['position' => end($visitors), 'done' => DB::raw('done + '.count($visitors))]);

            return true;
        }, 3);
    }
}

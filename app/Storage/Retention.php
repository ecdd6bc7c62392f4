<?php

namespace App\Storage;

use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** Forgets what is older than it may be kept, in small batches, so that nobody waits; what was counted stays as totals. */
final class Retention
{
    private const AT_ONCE = 2000;

    /** Samples of rejected events; how many there were, by the hour and reason, is kept. @return int how many are gone */
    public function forgetRejected(CarbonImmutable $before): int
    {
        $gone = 0;
        do {
            $ids = DB::table('rejected_events')->where('received', '<', $before->format('Y-m-d H:i:s.v'))->orderBy('id')->limit(self::AT_ONCE)->pluck('id');
            if ($ids->isEmpty()) {
                break;
            }
            DB::transaction(static function () use ($ids): void {
                $places = rtrim(str_repeat('?,', $ids->count()), ',');
                DB::insert("insert into unkept_events (site_id, hour, reason, n, last)
                    select site_id, date_format(received, '%Y-%m-%d %H:00:00') as at, left(reason, 40), count(*) as more, max(received) from rejected_events where id in ({$places}) and site_id is not null group by site_id, at, left(reason, 40)
                    on duplicate key update n = n + values(n), last = greatest(last, values(last))", $ids->all());
                DB::table('rejected_events')->whereIn('id', $ids)->delete();
            }, 3);
            $gone += $ids->count();
        } while ($ids->count() === self::AT_ONCE);

        return $gone;
    }

    /** Results of inspections, but for the newest of each page. @return int how many are gone */
    public function forgetInspections(CarbonImmutable $before): int
    {
        $gone = 0;
        do {
            $ids = DB::table('inspections as old')->where('last_at', '<', $before->format('Y-m-d H:i:s.v'))
                ->whereExists(static fn ($newer) => $newer->from('inspections as newer')->whereColumn('newer.page_id', 'old.page_id')->whereColumn('newer.last_at', '>', 'old.last_at'))
                ->limit(self::AT_ONCE)->pluck('id');
            $gone += DB::table('inspections')->whereIn('id', $ids)->delete();
        } while ($ids->count() === self::AT_ONCE);

        return $gone;
    }

    /** Who got in and who was refused, sessions and links that have ended. @return int how many entries are gone */
    public function forgetSecurity(CarbonImmutable $before): int
    {
        $gone = 0;
        $at = $before->format('Y-m-d H:i:s.v');
        foreach ([DB::table('security_events')->where('at', '<', $at), DB::table('sign_ins')->where('seen_at', '<', $at), DB::table('account_links')->where('expires_at', '<', $at)] as $table) {
            do {
                $some = (clone $table)->orderBy('id')->limit(self::AT_ONCE)->delete();
                $gone += $some;
            } while ($some === self::AT_ONCE);
        }

        return $gone;
    }

    /** What was told to whom, and the mails that were kept. What still waits is not forgotten. @return int how many are gone */
    public function forgetNotices(CarbonImmutable $before): int
    {
        $gone = 0;
        foreach ([DB::table('deliveries')->where('state', '<>', 'waiting'), DB::table('mails')] as $table) {
            do {
                $some = (clone $table)->where('at', '<', $before->format('Y-m-d H:i:s.v'))->orderBy('id')->limit(self::AT_ONCE)->delete();
                $gone += $some;
            } while ($some === self::AT_ONCE);
        }

        return $gone;
    }

    /** What previews sent, and what own people did. @return int how many events are gone */
    public function forgetApart(CarbonImmutable $before): int
    {
        $gone = 0;
        foreach (['preview_events', 'own_events'] as $table) {
            do {
                $some = DB::table($table)->where('received', '<', $before->format('Y-m-d H:i:s.v'))->orderBy('id')->limit(self::AT_ONCE)->delete();
                $gone += $some;
            } while ($some === self::AT_ONCE);
        }
        // How much there was is kept for longer: it is a row a day.
        DB::table('own_counts')->where('day', '<', $before->subYear()->toDateString())->delete();

        return $gone;
    }

    public function forgetStrangers(CarbonImmutable $before): int
    {
        return DB::table('strangers')->where('day', '<', $before->toDateString())->delete();
    }
}

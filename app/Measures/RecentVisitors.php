<?php

namespace App\Measures;

use App\Models\Site;
use App\ReadModel\StoredEvents;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\VisitorLog;

/** Goes through the visitors of the last weeks, with everything that each has done. In the background alone. */
final class RecentVisitors
{
    private const AT_ONCE = 400;

    /** So many are looked at, those who came last: with more the result is said to be partial. */
    private const MOST = 100_000;

    /**
     * @param callable(int, int): bool   $progress told how many of how many are done; false stops
     * @param callable(VisitorLog): void $visit
     *
     * @return bool|null whether there are more than were looked at; null where it was stopped
     */
    public static function each(Site $site, CarbonImmutable $since, callable $progress, callable $visit): ?bool
    {
        $visitors = DB::table('visitors')->where('site_id', $site->id)->where('last', '>=', $since->format('Y-m-d H:i:s.v'))->orderByDesc('last')->limit(self::MOST + 1)->pluck('visitor')->map(strval(...))->all();
        $partial = count($visitors) > self::MOST;
        $visitors = array_slice($visitors, 0, self::MOST);
        foreach (array_chunk($visitors, self::AT_ONCE) as $i => $part) {
            if (! $progress($i * self::AT_ONCE, count($visitors))) {
                return null;
            }
            foreach (StoredEvents::rows($site->id, $part) as $rows) {
                $visit(new VisitorLog(array_map(StoredEvents::event(...), $rows), $site->session_minutes));
            }
        }

        return $partial;
    }
}

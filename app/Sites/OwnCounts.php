<?php

namespace App\Sites;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Internal\InternalReason;

/** How much of a site's own people has been kept apart of late, by what they were known by. */
final class OwnCounts
{
    public const DAYS = 7;

    /** @return list<array{reason: string, label: string, n: int, last: CarbonImmutable}> */
    public static function of(Site $site): array
    {
        return DB::table('own_counts')->where('site_id', $site->id)->where('day', '>', CarbonImmutable::now('UTC')->subDays(self::DAYS)->toDateString())
            ->groupBy('reason')->orderBy('reason')->get(['reason', DB::raw('sum(n) n'), DB::raw('max(last) last')])
            ->map(static fn (object $row): array => ['reason' => $row->reason, 'label' => InternalReason::from($row->reason)->label(), 'n' => (int) $row->n, 'last' => CarbonImmutable::parse($row->last, 'UTC')])->all();
    }
}

<?php

namespace App\ReadModel;

use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** How far the figures of a site are: whether they are current, or still being counted, so that old ones are shown as such. */
final class Progress
{
    /** @return array{state: string, done: int, total: int, as_of: CarbonImmutable|null} of everything on a site */
    public static function ofSite(int $site): array
    {
        $row = DB::table('model_states')->where('site_id', $site)->first();

        return [
            'state' => $row->state ?? 'current',
            'done' => (int) ($row->done ?? 0),
            'total' => (int) ($row->total ?? 0),
            'as_of' => isset($row->gathered) ? CarbonImmutable::parse($row->gathered, 'UTC') : null,
        ];
    }

    /**
     * @param 'goal'|'experiment' $kind
     *
     * @return array<int, array{state: string, done: int, total: int, error: string|null}> id of the subject => of the newest count of it
     */
    public static function ofCounts(int $site, string $kind): array
    {
        return DB::table('counts')->where('site_id', $site)->where('kind', $kind)->whereIn('state', ['current', 'building'])->orderBy('id')->get()
            ->mapWithKeys(static fn (object $count): array => [(int) $count->subject_id => ['state' => $count->state, 'done' => (int) $count->done, 'total' => (int) $count->total, 'error' => $count->error]])->all();
    }
}

<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use App\ReadModel\Readings;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** How many pages are in which state, by group and source: counted when something has changed, so that whoever looks only reads. */
final class CoverageFigures
{
    private const AT_ONCE = 5000;

    /** Lets evidence grow old that is older than the site allows, and counts again. */
    public function refresh(Site $site): void
    {
        $fresh = CarbonImmutable::now('UTC')->subSeconds($site->fresh_seconds)->format('Y-m-d H:i:s.v');
        do {
            $aged = Page::query()->where('site_id', $site->id)->where('inspected_at', '<', $fresh)->whereIn('rank', array_map(Page::rankOf(...), ['broken', 'doubt', 'holds']))->limit(self::AT_ONCE)->update(['rank' => Page::rankOf('stale')]);
        } while ($aged === self::AT_ONCE);
        $cells = Page::query()->where('site_id', $site->id)->toBase()->groupBy('group_name', 'source', 'rank')->selectRaw('group_name, source, `rank`, count(*) as n')->get()
            ->map(static fn (object $row): array => [$row->group_name, $row->source, Page::STATES[$row->rank], (int) $row->n])->all();
        Readings::keep($site->id, 'coverage', '', $cells);
        AddressBlocks::refresh($site);
        // Addresses of events that are pages by now need nobody's word.
        DB::update('update addresses join pages on pages.site_id = addresses.site_id and pages.page = addresses.page set addresses.listed = 1 where addresses.site_id = ? and addresses.listed = 0', [$site->id]);
    }

    /** @return list<array{string|null, string, string, int}> group, source, state and how many pages */
    public static function cells(Site $site): array
    {
        return Readings::one($site->id, 'coverage', '') ?? [];
    }
}

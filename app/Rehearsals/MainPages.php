<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Inventory\Inventory;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

/** The pages of a site that visitors look at most; where nothing has been received yet, those that are known first. */
final class MainPages
{
    private const MOST = 8;
    private const DAYS = 28;

    /** @return list<string> whole addresses */
    public static function of(Site $site): array
    {
        $viewed = DB::table('page_volumes')->where('site_id', $site->id)->where('hour', '>=', CarbonImmutable::now('UTC')->subDays(self::DAYS)->format('Y-m-d H:i:s'))
            ->groupBy('page')->selectRaw('page, sum(n) as views')->orderByDesc('views')->limit(10 * self::MOST)->pluck('page')->all();
        $known = $site->pages()->whereIn('page', $viewed)->orderBy('id')->get(['page', 'url'])->unique('page')->keyBy('page');
        $pages = array_values(array_filter(array_map(static fn (mixed $page): ?string => $known[$page]->url ?? null, $viewed)));
        $more = count($pages) < self::MOST ? $site->pages()->where('source', '<>', 'seen')->orderBy('id')->limit(4 * self::MOST)->pluck('url')->all() : [];
        $home = app(Inventory::class)->home($site);

        return array_slice(array_values(array_filter(array_unique([...$pages, ...$more]), static fn (string $url): bool => Inventory::isAtPortOf($url, $home))), 0, self::MOST);
    }
}

<?php

declare(strict_types=1);

namespace App\Observation;

use App\Models\Site;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Facades\DB;

/** The addresses that a site's page views came from, ever: page hash => url. Kept, and added to from new events only. */
final class Addresses
{
    public function __construct(private readonly Repository $cache)
    {
    }

    /** @return array<string, string> */
    public function of(Site $site): array
    {
        $key = "addresses:{$site->id}";
        [$upTo, $known] = $this->cache->get($key, [0, []]);
        $newest = (int) DB::table('events')->where('site_id', $site->id)->where('id', '>', $upTo)->max('id');
        if ($newest > $upTo) {
            $fresh = DB::table('events')->where('site_id', $site->id)->where('name', 'page_view')
                ->where('id', '>', $upTo)->where('id', '<=', $newest)->groupBy('page')->selectRaw('page, min(url) as url')->pluck('url', 'page');
            $known += $fresh->all();
            $this->cache->forever($key, [$newest, $known]);
        }

        return $known;
    }
}

<?php

namespace App\Sites;

use App\Measures\EventVolumes;
use App\Models\AccountLink;
use App\Models\Page;
use App\Models\Site;
use App\ReadModel\RecentHits;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Beginning\Begun;

/** Reads how far a site has come, from what is prepared. */
final readonly class Beginnings
{
    public function __construct(private EventVolumes $volumes)
    {
    }

    public function of(Site $site): Begun
    {
        // By the index on verdicts, of however many pages.
        $page = static fn (string $verdict): ?Page => Page::query()->where('site_id', $site->id)->where('verdict', $verdict)->orderByDesc('id')->first(['id', 'url', 'inspected_at']);
        $proven = $page('sound');
        $faulty = $proven === null ? $page('broken') ?? $page('doubt') : null;
        $events = array_column($this->volumes->all($site), null, 'name');
        $other = array_filter($events, static fn (array $one): bool => $one['count'] > 0 && ! in_array($one['name'], ['page_view', 'exposure'], true));
        $refused = DB::table('rejected_events')->where('site_id', $site->id)->orderByDesc('received')->first(['message', 'received']);
        $goals = $site->goals()->orderBy('id')->limit(1000)->pluck('name', 'id');
        $hits = array_filter(RecentHits::ofSite($site->id), static fn (array $recent): bool => $recent['last'] !== null);
        $reached = array_key_first(array_intersect_key($hits, $goals->all()));
        $experiments = $site->experiments()->orderBy('id')->limit(1000)->pluck('name', 'id');
        $entered = DB::table('readings')->where('site_id', $site->id)->where('kind', 'experiment')->whereIn('subject', $experiments->keys()->map(strval(...))->all())
            ->selectRaw("subject, json_value(content, '$.entered.visitors') as visitors, json_value(content, '$.entered.last') as last")->get()->sortByDesc(static fn (object $one): int => (int) $one->visitors)->first();
        $visitors = (int) ($entered->visitors ?? 0);

        return new Begun(
            $proven?->url,
            $proven?->inspected_at,
            $faulty?->url,
            $faulty?->inspected_at,
            $events['page_view']['count'] ?? 0,
            $events['page_view']['last'] ?? null,
            $refused?->message,
            $refused === null ? null : CarbonImmutable::parse($refused->received, 'UTC'),
            $other === [] ? null : (string) array_values($other)[0]['name'],
            $other === [] ? null : array_values($other)[0]['last'],
            $goals->count(),
            $reached === null ? null : $goals[$reached],
            $reached === null ? null : $hits[$reached]['last'],
            $experiments->count(),
            $visitors > 0 ? $experiments[(int) $entered?->subject] : $experiments->first(),
            $visitors,
            $visitors > 0 && $entered?->last !== null ? CarbonImmutable::parse($entered->last, 'UTC') : null,
            $site->users()->count(),
            AccountLink::openInvitations($site, CarbonImmutable::now('UTC'))->count(),
        );
    }
}

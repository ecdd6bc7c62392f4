<?php

namespace App\Observation;

use App\Models\Page;
use App\Models\Site;
use Pellix\Core\Chain\PagesInspected;
use Pellix\Core\Rules\PageRule;

/** What inspections found on those known pages of a site that a page rule matches. */
final class Inspections
{
    /** @var array<string, list<object>> site and stamp => its pages, read once for all experiments of a request */
    private array $pages = [];

    public function of(Site $site, PageRule $rule): PagesInspected
    {
        $known = $inspected = $unreachable = $faulty = 0;
        $example = $last = null;
        foreach ($this->pages($site) as $page) {
            if (! $rule->matches($page->url)) {
                continue;
            }
            $known++;
            if ($page->inspected_at === null) {
                continue;
            }
            $inspected++;
            $last = max($last, $page->inspected_at);
            $isGone = str_contains($page->faulty, '"page"');
            $isFaulty = ! $isGone && str_contains($page->faulty, '"snippet"');
            $unreachable += $isGone ? 1 : 0;
            $faulty += $isFaulty ? 1 : 0;
            $example = $isFaulty || $isGone ? ($example ?? $page->url) : $example;
        }

        return new PagesInspected($known, $inspected, $unreachable, $faulty, $example, EventCounts::moment($last));
    }

    /** Changes whenever an inspection or a change of the inventory may change what is said here. */
    public function stamp(int $site): string
    {
        $row = Page::query()->where('site_id', $site)->toBase()->selectRaw('count(*) as n, max(inspected_at) as last')->first();

        return "{$row?->n} {$row?->last}";
    }

    /** @return list<object> */
    private function pages(Site $site): array
    {
        return $this->pages["{$site->id} {$this->stamp($site->id)}"] ??= Page::query()->where('site_id', $site->id)->toBase()->get(['url', 'inspected_at', 'faulty'])->all();
    }
}

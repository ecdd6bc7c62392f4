<?php

namespace App\Publishing;

use App\Models\Site;
use App\Models\SiteKey;

/**
 * Keeps the files of this machine as the database has them, where several machines serve the same sites: whoever publishes
 * writes the files of their own machine alone.
 */
final class Mirror
{
    /** @var array<int, array{mark: string, keys: list<string>}> by site: what its files were made of, and where they are */
    private array $known = [];

    public function __construct(private readonly Publisher $publisher, private readonly SiteFile $file)
    {
    }

    /** Looks once; reads what has changed, and nothing else. */
    public function turn(): void
    {
        $earlier = SiteKey::query()->counting()->orderByDesc('replaced_at')->get(['key', 'site_id'])->groupBy('site_id');
        $there = [];
        foreach (Site::query()->orderBy('id')->lazyById(1000) as $site) {
            $there[$site->id] = true;
            $keys = $site->archived_at !== null || $site->deleting_at !== null ? [] : [$site->key, ...array_values($earlier->get($site->id)?->pluck('key')->all() ?? [])];
            $mark = "{$site->published_number} ".implode(' ', $keys);
            $before = $this->known[$site->id] ?? null;
            if ($before !== null && $before['mark'] === $mark) {
                continue;
            }
            $this->file->remove(...array_diff([...$before['keys'] ?? [], ...$before === null ? [$site->key] : []], $keys));
            $keys === [] || $this->publisher->copy($site);
            $this->known[$site->id] = ['mark' => $mark, 'keys' => $keys];
        }
        foreach (array_diff_key($this->known, $there) as $id => $gone) {
            $this->file->remove(...$gone['keys']);
            unset($this->known[$id]);
        }
    }
}

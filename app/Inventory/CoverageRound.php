<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use App\ReadModel\Round;

/** Counts the pages by their states again, where something has changed, and once a minute, since evidence grows old. */
final class CoverageRound implements Round
{
    private const SECONDS = 60;

    /** @var array<int, array{string, int}> */
    private array $made = [];

    public function __construct(private readonly CoverageFigures $figures)
    {
    }

    public function make(Site $site): bool
    {
        $stamp = (string) json_encode([Page::query()->where('site_id', $site->id)->max('inspected_at'), Page::query()->where('site_id', $site->id)->max('id')]);
        if (($this->made[$site->id][0] ?? '') !== $stamp || time() - $this->made[$site->id][1] > self::SECONDS) {
            $this->figures->refresh($site);
            $this->made[$site->id] = [$stamp, time()];
        }

        return false;
    }
}

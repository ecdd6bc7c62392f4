<?php

namespace App\Sites;

use App\Logbook\SecurityLog;
use App\Models\Site;
use App\Publishing\SiteFile;
use App\Storage\SiteData;
use Carbon\CarbonImmutable;
use Pellix\Core\SignIn\SecurityMatter;

/** Deletes sites with everything: for everybody at once, and their rows bit by bit, by the clock. */
final readonly class SiteRemover
{
    /** Whoever still works on the site has finished by then. */
    private const PATIENCE_SECONDS = 120;

    /** So long it goes on each time. */
    private const SECONDS = 40;

    public function __construct(private SiteFile $file, private SecurityLog $log)
    {
    }

    public function ask(Site $site): void
    {
        $this->file->remove(...$site->keys());
        $site->forceFill(['deleting_at' => CarbonImmutable::now('UTC')])->saveQuietly();
        // Of no site: it stays when the site is gone.
        $this->log->note(SecurityMatter::SiteDeleted, request()->user(), note: "{$site->name} ({$site->key})");
    }

    public function due(CarbonImmutable $now): void
    {
        $until = microtime(true) + self::SECONDS;
        foreach (Site::query()->whereNotNull('deleting_at')->where('deleting_at', '<=', $now->subSeconds(self::PATIENCE_SECONDS)->format('Y-m-d H:i:s.v'))->orderBy('deleting_at')->get() as $site) {
            (new SiteData($site))->delete($until);
        }
    }
}

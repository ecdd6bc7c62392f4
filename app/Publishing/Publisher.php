<?php

declare(strict_types=1);

namespace App\Publishing;

use App\Models\Experiment;
use App\Models\Site;
use Illuminate\Filesystem\Filesystem;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\Tags\TagSet;

/** Writes the one file that a site's snippet loads: its configuration, followed by the runtime that interprets it. */
final readonly class Publisher
{
    public function __construct(private Filesystem $files)
    {
    }

    public function publish(Site $site): void
    {
        $running = $site->experiments()->where('state', 'running')->with('goals')->orderBy('id')->get();
        $wiring = $site->publishedWiring();
        $configuration = RuntimeConfiguration::compile(
            $site->settings(),
            rtrim((string) config('app.url'), '/').'/c',
            $running->map(static fn (Experiment $experiment) => $experiment->declared())->all(),
            $wiring?->set() ?? TagSet::read([]),
            $wiring->number ?? 0,
        );
        $folder = (string) config('pellix.published');
        $this->files->ensureDirectoryExists($folder);
        // Written beside and moved over, so that nobody is ever served half a file.
        $this->files->replace("{$folder}/{$site->key}.js", sprintf(
            "window.pellixSite=%s;\n%s",
            json_encode($configuration, JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_UNESCAPED_SLASHES),
            $this->files->get(base_path('runtime/dist/pellix.js')),
        ), 0644);
    }
}

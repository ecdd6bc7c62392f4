<?php

declare(strict_types=1);

namespace App\Publishing;

use App\Models\Experiment;
use App\Models\Publication;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\InvalidInput;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\Tags\TagSet;

/**
 * Compiles what a site's pages are to do, under a number, and writes the one file that its snippet loads: the configuration,
 * followed by the runtime that interprets it.
 *
 * The configuration is compiled from one consistent reading while nobody else compiles one, and kept in the database: the
 * file is a copy of the newest, on whichever machine serves it.
 */
final readonly class Publisher
{
    public function __construct(private SiteFile $file)
    {
    }

    public function publish(Site $site, bool $evenIfOlder = false): void
    {
        $publication = DB::transaction(function () use ($site): Publication {
            // The lock comes first: whatever is read after it was there when the last one who compiled was done.
            $site = Site::query()->whereKey($site->id)->lockForUpdate()->firstOrFail();
            $newest = Publication::query()->where('site_id', $site->id)->orderByDesc('number')->first();
            $number = ($newest->number ?? 0) + 1;
            $configuration = $this->compile($site);
            if ($newest !== null && self::same($newest->configuration, $configuration)) {
                return $newest;
            }
            $site->update(['published_number' => $number]);

            return Publication::query()->create([
                'site_id' => $site->id, 'number' => $number, 'published_at' => CarbonImmutable::now('UTC'),
                'configuration' => json_encode(['number' => $number, ...$configuration], JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_UNESCAPED_SLASHES),
            ]);
        });
        $this->file->write($site->key, $publication->number, $publication->configuration, RuntimeConfiguration::parts(json_decode($publication->configuration, true)), $evenIfOlder);
    }

    /** @return array<string, mixed> */
    private function compile(Site $site): array
    {
        $running = $site->experiments()->where('state', 'running')->with('goals', 'revisions')->orderBy('id')->get()->map(self::declared(...))->filter()->values()->all();
        $wiring = $site->publishedWiring();

        return RuntimeConfiguration::compile(
            $site->settings(),
            rtrim((string) config('app.url'), '/').'/c',
            $running,
            $wiring?->set() ?? TagSet::read([]),
            $wiring->number ?? 0,
        );
    }

    /** Null for one that cannot be read: it must not keep the others from being published. */
    private static function declared(Experiment $experiment): ?Declared
    {
        try {
            return $experiment->declared();
        } catch (InvalidInput $e) {
            report($e);

            return null;
        }
    }

    /** @param array<string, mixed> $configuration */
    private static function same(string $published, array $configuration): bool
    {
        $before = json_decode($published, true);

        return array_diff_key($before, ['number' => 0]) == json_decode((string) json_encode($configuration), true);
    }
}

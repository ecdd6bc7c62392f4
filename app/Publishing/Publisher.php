<?php

declare(strict_types=1);

namespace App\Publishing;

use App\Models\Experiment;
use App\Models\Publication;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Served;
use Pellix\Core\InvalidInput;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\Tags\TagSet;

/**
 * Compiles what a site's pages are to do, under a number, and writes the one file that its snippet loads: the configuration,
 * followed by the runtime that interprets it.
 *
 * The configuration is compiled from one consistent reading while nobody else compiles one, checked, and kept in the database:
 * the file is a copy of the newest, on whichever machine serves it. One that does not stand the check is not kept: the pages go
 * on with the one before, and the site says why.
 */
final readonly class Publisher
{
    /** So many of the newest can be put back. */
    public const PUT_BACK = 10;

    public function __construct(private SiteFile $file, private SiteCheck $check)
    {
    }

    /** @return bool whether the pages do now what is declared */
    public function publish(Site $site): bool
    {
        $publication = DB::transaction(function () use ($site): ?Publication {
            // The lock comes first: whatever is read after it was there when the last one who compiled was done.
            $site = Site::query()->whereKey($site->id)->lockForUpdate()->firstOrFail();
            $site->held_publication = null;
            $newest = $this->newest($site);
            try {
                $running = $this->running($site);
                $configuration = $this->compile($site, $running);
            } catch (\Throwable $e) {
                report($e);

                return $this->keepLast($site, "It could not be compiled: {$e->getMessage()}");
            }
            if ($newest !== null && self::same($newest->configuration, $configuration)) {
                $site->update(['publishing' => null]);

                return $newest;
            }

            return $this->add($site, $newest, $configuration, $running);
        });
        $publication === null || $this->write($site, $publication, false);

        return $publication !== null;
    }

    /** Puts the content of an earlier one back, as a new one; it stays until somebody publishes something else. */
    public function putBack(Site $site, int $number, User $author): ?Publication
    {
        $publication = DB::transaction(function () use ($site, $number, $author): ?Publication {
            $site = Site::query()->whereKey($site->id)->lockForUpdate()->firstOrFail();
            $newest = $this->newest($site);
            $earlier = Publication::query()->where('site_id', $site->id)->where('number', $number)->firstOrFail();
            abort_if($newest === null || $number === $newest->number, 409, "Number {$number} is the one that pages get now.");
            abort_if($number < $newest->number - self::PUT_BACK, 409, 'Only the '.self::PUT_BACK.' before the newest can be put back.');
            // It may be of before the site had the key that it has.
            $configuration = ['site' => $site->key, ...array_diff_key((array) json_decode($earlier->configuration, true), ['number' => 0, 'site' => 0])];
            $kept = $this->add($site, $newest, $configuration, [], $number, $author->name);
            $kept === null || $site->update(['held_publication' => $kept->number]);

            return $kept;
        });
        $publication === null || $this->write($site, $publication, false);

        return $publication;
    }

    /** Writes the newest as it is in the database, without compiling anything: for another machine than the one that published it. */
    public function copy(Site $site): void
    {
        $newest = $this->newest($site);
        $newest === null || $this->write($site, $newest, false);
    }

    /** Writes the file with the runtime of this release, for a start: what was put back stays. */
    public function renew(Site $site): void
    {
        $held = $site->held_publication === null ? null : $this->newest($site);
        if ($held === null) {
            $this->publish($site);
            $held = $this->newest($site);
        }
        $held === null || $this->write($site, $held, true);
    }

    /** The text of the site's file as it would be if an experiment ran beside those that do: for whoever tries it before it starts. */
    public function asIf(Site $site, Declared $experiment): string
    {
        $configuration = $this->configuration($site, $experiment);

        return $this->file->text(json_encode($configuration, JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_UNESCAPED_SLASHES), RuntimeConfiguration::parts(json_decode((string) json_encode($configuration), true)));
    }

    /**
     * What the site's pages are to do, if an experiment ran beside those that do.
     *
     * @param CarbonImmutable|null $at a time to come: beside those that run then; null for now
     *
     * @return array<string, mixed> see `RuntimeConfiguration`
     */
    public function configuration(Site $site, ?Declared $experiment, ?CarbonImmutable $at = null): array
    {
        $others = array_values(array_filter($at === null ? $this->running($site) : $this->runningAt($site, $at), static fn (Declared $one): bool => $one->key !== $experiment?->key));

        return ['number' => $site->published_number, ...$this->compile($site, $experiment === null ? $others : [...$others, $experiment])];
    }

    /** The text of the site's file without any experiment: what the code does to pages on which nothing is tested. */
    public function bare(Site $site): string
    {
        $configuration = ['number' => $site->published_number, ...$this->compile($site, []), 'experiments' => []];

        return $this->file->text(json_encode($configuration, JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_UNESCAPED_SLASHES), []);
    }

    private function newest(Site $site): ?Publication
    {
        return Publication::query()->where('site_id', $site->id)->orderByDesc('number')->first();
    }

    /**
     * @param array<string, mixed> $configuration
     * @param list<Declared>       $running
     */
    private function add(Site $site, ?Publication $newest, array $configuration, array $running, ?int $putsBack = null, string $author = ''): ?Publication
    {
        $number = ($newest->number ?? 0) + 1;
        $json = json_encode(['number' => $number, ...$configuration], JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_UNESCAPED_SLASHES);
        $wrong = $this->check->wrong($this->file->text($json, RuntimeConfiguration::parts(json_decode($json, true))), $site->key, $number, $running);
        if ($wrong !== null) {
            return $this->keepLast($site, $wrong);
        }
        $site->update(['published_number' => $number, 'publishing' => null]);

        return Publication::query()->create(['site_id' => $site->id, 'number' => $number, 'published_at' => CarbonImmutable::now('UTC'), 'configuration' => $json, 'puts_back' => $putsBack, 'author' => $author]);
    }

    /** The pages keep what they have; the site says why, and since when. */
    private function keepLast(Site $site, string $why): null
    {
        $since = $site->publishing['since'] ?? CarbonImmutable::now('UTC')->format('Y-m-d\TH:i:s\Z');
        $site->update(['publishing' => ['why' => mb_substr($why, 0, 500), 'since' => $since]]);

        return null;
    }

    private function write(Site $site, Publication $publication, bool $evenIfOlder): void
    {
        $parts = RuntimeConfiguration::parts(json_decode($publication->configuration, true));
        foreach ($site->keys() as $key) {
            $this->file->write($key, $publication->number, SiteFile::under($key, $publication->configuration), $parts, $evenIfOlder);
        }
    }

    /** @return list<Declared> those that run and can be read: the others must not keep them from being published */
    private function running(Site $site): array
    {
        return self::readable($site->experiments()->where('state', 'running')->with('goals', 'revisions')->orderBy('id')->get()->all(), static fn (Experiment $one): Declared => $one->declared());
    }

    /** @return list<Declared> those that run at a time to come, as far as what is scheduled tells now */
    private function runningAt(Site $site, CarbonImmutable $at): array
    {
        $time = $at->utc()->format('Y-m-d H:i:s.v');
        $due = $site->experiments()->where(static fn ($query) => $query->where('state', 'running')->orWhere(static fn ($scheduled) => $scheduled->where('state', 'scheduled')->where('start_at', '<=', $time)))
            ->where(static fn ($query) => $query->whereNull('end_at')->orWhere('end_at', '>', $time));

        return self::readable($due->with('goals', 'revisions')->orderBy('id')->get()->all(), static fn (Experiment $one): Declared => $one->declared());
    }

    /** @return list<Served> those that have ended, and serve one variant to everybody */
    private function served(Site $site): array
    {
        return self::readable($site->experiments()->where('state', 'ended')->whereNotNull('kept_variant')->with('goals', 'revisions')->orderBy('id')->get()->all(), static fn (Experiment $one): Served => Served::by($one->declared(), (string) $one->kept_variant));
    }

    /**
     * @template T
     *
     * @param array<Experiment>       $experiments
     * @param callable(Experiment): T $read
     *
     * @return list<T>
     */
    private static function readable(array $experiments, callable $read): array
    {
        $all = [];
        foreach ($experiments as $experiment) {
            try {
                $all[] = $read($experiment);
            } catch (InvalidInput $e) {
                report($e);
            }
        }

        return $all;
    }

    /**
     * @param list<Declared> $running
     *
     * @return array<string, mixed>
     */
    private function compile(Site $site, array $running): array
    {
        $wiring = $site->publishedWiring();

        return RuntimeConfiguration::compile(
            $site->settings(),
            rtrim((string) config('app.url'), '/').'/c',
            $running,
            $wiring?->set() ?? TagSet::read([]),
            $wiring->number ?? 0,
            $this->served($site),
            $this->areas($site),
        );
    }

    /** @return list<string> selectors of the parts of pages that goals of the site count */
    private function areas(Site $site): array
    {
        $areas = [];
        foreach ($site->goals()->where('definition', 'like', '%"seen"%')->orderBy('id')->get() as $goal) {
            try {
                array_push($areas, ...$goal->declared()->areas());
            } catch (InvalidInput) {
                // Its own page says that it cannot be read.
            }
        }

        return $areas;
    }

    /** @param array<string, mixed> $configuration */
    private static function same(string $published, array $configuration): bool
    {
        $before = json_decode($published, true);

        return array_diff_key($before, ['number' => 0]) == json_decode((string) json_encode($configuration), true);
    }
}

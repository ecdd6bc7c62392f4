<?php

namespace App\Scanning;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Inventory\CoverageFigures;
use App\Inventory\Inventory;
use App\Inventory\PageInspector;
use App\Models\Scan;
use App\Models\ScanItem;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Database\QueryException;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inventory\Address;
use Pellix\Core\Wiring\Inventory\InvalidSitemap;
use Pellix\Core\Wiring\Inventory\Links;
use Pellix\Core\Wiring\Inventory\Robots;
use Pellix\Core\Wiring\Inventory\Sitemap;

/**
 * Runs through the pages of a site: finds them (sitemaps, then links, politely), or inspects all that are known.
 *
 * A scan is a list of addresses in the database, worked off in short turns, one request at a time with a pause between:
 * it survives a restart, and can be cancelled between two pages.
 */
final readonly class Scanner
{
    private const AGENT = 'Pellix';

    private const MOST_SITEMAPS = 200;

    private const MOST_NOTES = 20;

    private const MOST_TRIES = 2;

    public function __construct(
        private Inventory $inventory,
        private PageInspector $inspector,
        private PageFetcher $fetcher,
        private Repository $cache,
        private CoverageFigures $figures,
    ) {
    }

    /** @throws ValidationException where one is running already */
    public function start(Site $site, string $kind, User|string $by, int $depth = 3, int $most = 500): Scan
    {
        if ($site->scans()->where('state', 'running')->exists()) {
            throw ValidationException::withMessages(['kind' => 'A scan of this site is running already; wait for it, or cancel it.']);
        }
        $scan = $site->scans()->create([
            'kind' => $kind, 'state' => 'running', 'by' => $by instanceof User ? $by->name : $by, 'author_id' => $by instanceof User ? $by->id : null, 'depth' => $depth, 'most' => $most, 'found' => 0, 'notes' => [], 'started_at' => CarbonImmutable::now('UTC'),
        ]);
        if ($kind === 'find') {
            $this->queue($scan, [$this->inventory->home($site)], 'page', 0);
            foreach ($this->robots($scan, $this->inventory->home($site))->sitemaps ?: [] as $sitemap) {
                $this->queue($scan, array_filter([Address::resolve($sitemap)]), 'sitemap', 0);
            }
            $this->queue($scan, array_filter([Address::resolve('/sitemap.xml', $this->inventory->home($site))]), 'sitemap', 0);
        } else {
            $site->pages()->orderBy('id')->select('id', 'url')->chunk(1000, fn ($pages) => $this->queue($scan, $pages->pluck('url')->all(), 'page', 0));
        }
        $this->figures->refresh($site);
        ContinueScan::dispatch($scan->id);

        return $scan->refresh();
    }

    public function cancel(Scan $scan): void
    {
        Scan::query()->whereKey($scan->id)->where('state', 'running')->update(['state' => 'cancelled', 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
    }

    /** Works for about so many seconds. @return bool whether there is more to do */
    public function work(Scan $scan, float $seconds): bool
    {
        $until = microtime(true) + $seconds;
        $site = $scan->site;
        do {
            if (Scan::query()->whereKey($scan->id)->value('state') !== 'running') {
                return false;
            }
            // Sitemaps first: they name more pages with less load than links do.
            $item = $scan->items()->where('done', false)->orderByDesc('what')->orderBy('id')->first();
            if ($item === null) {
                $this->figures->refresh($site);
                Scan::query()->whereKey($scan->id)->where('state', 'running')->update(['state' => 'done', 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);

                return false;
            }
            $this->take($scan, $site, $item);
            $item->update(['done' => true]);
            $scan->increment('done');
            usleep(1000 * (int) config('pellix.fetch_pause_ms'));
        } while (microtime(true) < $until);
        $this->figures->refresh($site);

        return true;
    }

    /** What has ended a worker twice is not run the same way again; what fails is told, and the rest goes on. */
    private function take(Scan $scan, Site $site, ScanItem $item): void
    {
        if ($item->begun >= self::MOST_TRIES) {
            $this->note($scan, "{$item->url}: work on it has ended a worker ".self::MOST_TRIES.' times, and is not tried again.');
            $page = $item->what === 'page' ? $site->pages()->where('hash', Inventory::hash($item->url))->first() : null;
            $page === null || $this->inspector->giveUp($page);

            return;
        }
        $item->increment('begun');
        try {
            $item->what === 'sitemap' ? $this->sitemap($scan, $site, $item) : $this->page($scan, $site, $item);
        } catch (QueryException $e) {
            // The database's trouble is no page's: the turn is taken again.
            throw $e;
        } catch (\Throwable $e) {
            report($e);
            $this->note($scan, "{$item->url}: inspecting it failed. The log says why.");
        }
    }

    private function sitemap(Scan $scan, Site $site, ScanItem $item): void
    {
        try {
            $delivery = $this->fetcher->fetch($site, $item->url);
            if ($delivery->status !== 200) {
                throw new FetchFailed("the server answered {$delivery->status}.");
            }
            $sitemap = Sitemap::read($delivery->body);
        } catch (FetchFailed|InvalidSitemap $e) {
            $this->note($scan, "{$item->url}: {$e->getMessage()}");

            return;
        }
        $this->queue($scan, self::own($site, $sitemap->sitemaps, $delivery->given), 'sitemap', $item->depth);
        $pages = self::own($site, $sitemap->pages, $delivery->given);
        $foreign = count($sitemap->pages) - count($pages);
        if ($foreign > 0) {
            $this->note($scan, "{$item->url}: {$foreign} of its addresses are none of this site's, or listed twice.");
        }
        $scan->increment('found', count($this->inventory->add($site, $pages, 'sitemap')));
        $this->queue($scan, $pages, 'page', 0);
    }

    private function page(Scan $scan, Site $site, ScanItem $item): void
    {
        if ($scan->kind === 'find' && ! $this->mayFetch($scan, $item->url)) {
            $this->note($scan, "{$item->url}: robots.txt keeps it from being crawled.");

            return;
        }
        $page = $site->pages()->where('hash', Inventory::hash($item->url))->first();
        if ($page === null) {
            $scan->increment('found', count($this->inventory->add($site, [$item->url], 'crawl')));
            $page = $site->pages()->where('hash', Inventory::hash($item->url))->first();
        }
        $delivery = $page === null ? null : $this->inspector->inspect($site, $page);
        if ($scan->kind === 'find' && $delivery !== null && $item->depth < $scan->depth) {
            $this->follow($scan, $site, $delivery, $item->depth + 1);
        }
    }

    private function follow(Scan $scan, Site $site, Delivery $delivery, int $depth): void
    {
        if ($delivery->status !== 200 || $delivery->findings() !== [] && in_array('blocker', array_column($delivery->findings(), 'severity'), true)) {
            return;
        }
        $html = Encoding::decode($delivery->body, $delivery->charset());
        if (Links::areForbidden($html)) {
            return;
        }
        // A link with a query is the same page with other content; only its path is followed, so that no crawl runs endlessly.
        $paths = array_map(static fn (string $url): string => (string) preg_replace('/\?.*/s', '', $url), array_keys(Links::on($html, $delivery->given)));
        $this->queue($scan, self::own($site, $paths, $delivery->given), 'page', $depth);
    }

    /** @param array<string> $urls */
    private function queue(Scan $scan, array $urls, string $what, int $depth): void
    {
        $most = $what === 'sitemap' ? self::MOST_SITEMAPS : ($scan->kind === 'inspect' ? Inventory::MOST_PAGES : $scan->most);
        $room = $most - $scan->items()->where('what', $what)->count();
        $rows = array_map(static fn (string $url): array => [
            'scan_id' => $scan->id, 'what' => $what, 'url' => $url, 'hash' => Inventory::hash("{$what} {$url}"), 'depth' => $depth, 'done' => false,
        ], array_values(array_unique($urls)));
        $known = [];
        foreach (array_chunk(array_column($rows, 'hash'), 1000) as $part) {
            $known += $scan->items()->whereIn('hash', $part)->pluck('hash')->flip()->all();
        }
        $rows = array_values(array_filter($rows, static fn (array $row): bool => ! isset($known[$row['hash']])));
        if (count($rows) > max(0, $room) && $room >= 0 && $what === 'page') {
            $this->note($scan, "The limit of {$most} pages was reached; more are there.");
        }
        foreach (array_chunk(array_slice($rows, 0, max(0, $room)), 500) as $part) {
            $scan->increment('total', ScanItem::query()->insertOrIgnore($part));
        }
    }

    private function mayFetch(Scan $scan, string $url): bool
    {
        return $this->robots($scan, $url)->allows((string) preg_replace('~\Ahttps?://[^/?#]*|#.*\z~is', '', $url));
    }

    /** The rules of an address's host, asked for once a scan (RFC 9309, 2.4). */
    private function robots(Scan $scan, string $url): Robots
    {
        $origin = (string) preg_replace('~\A(https?://[^/?#]+).*\z~is', '$1', $url);

        return $this->cache->remember("robots:{$scan->id}:{$origin}", 3600, function () use ($scan, $origin): Robots {
            try {
                $delivery = $this->fetcher->fetch($scan->site, "{$origin}/robots.txt");
            } catch (FetchFailed) {
                return Robots::unreachable();
            }

            return match (true) {
                $delivery->status >= 500 => Robots::unreachable(),
                $delivery->status >= 400 => Robots::none(),
                default => Robots::parse($delivery->body, self::AGENT),
            };
        });
    }

    /**
     * @param list<string> $urls
     *
     * @return list<string> those on the site's own hosts, in one spelling, each once
     */
    private static function own(Site $site, array $urls, string $base): array
    {
        $own = [];
        foreach ($urls as $url) {
            $address = Address::resolve($url, $base);
            if ($address !== null && in_array(AddressFacts::of($address)->host, $site->hosts, true) && Inventory::isAtPortOf($address, $base)) {
                $own[$address] = true;
            }
        }

        return array_keys($own);
    }

    private function note(Scan $scan, string $note): void
    {
        $notes = $scan->notes;
        if (! in_array($note, $notes, true) && count($notes) < self::MOST_NOTES) {
            $scan->update(['notes' => [...$notes, mb_strcut($note, 0, 400, 'UTF-8')]]);
        }
    }
}

<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Pages\PageKey;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\Inspection\PageGroup;
use Pellix\Core\Wiring\Inventory\Address;

/** The known pages of a site: takes addresses in, whatever they come from, and sorts them into the site's groups. */
final readonly class Inventory
{
    /** So many pages a site may have here. */
    public const MOST_PAGES = 200_000;

    private const AT_ONCE = 1000;

    /**
     * Adds addresses that are not known yet.
     *
     * @param list<string> $addresses as `Address::resolve()` spells them
     *
     * @return list<string> those that are new
     */
    public function add(Site $site, array $addresses, string $source): array
    {
        $byHash = [];
        foreach ($addresses as $address) {
            $byHash[self::hash($address)] = $address;
        }
        $room = self::MOST_PAGES - $site->pages()->count();
        $fresh = [];
        foreach (array_chunk($byHash, 1000, true) as $part) {
            $known = $site->pages()->whereIn('hash', array_keys($part))->pluck('hash')->all();
            $fresh += array_diff_key($part, array_flip($known));
            if ($source === 'sitemap') {
                $site->pages()->whereIn('hash', $known)->update(['in_sitemap' => true]);
            }
        }
        $fresh = array_slice($fresh, 0, max(0, $room), true);
        $groups = $site->groups();
        $now = CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v');
        foreach (array_chunk($fresh, 500, true) as $part) {
            $rows = [];
            foreach ($part as $hash => $url) {
                $rows[] = [
                    'site_id' => $site->id, 'url' => $url, 'hash' => $hash, 'source' => $source, 'in_sitemap' => $source === 'sitemap',
                    'group_name' => self::groupOf($groups, $url)?->name, 'added_at' => $now, 'faulty' => '[]',
                    ...Page::places($url, $site->page_parameters), 'rank' => Page::rankOf('unseen'), 'matched' => false,
                ];
            }
            Page::query()->insertOrIgnore($rows);
        }

        return array_values($fresh);
    }

    /**
     * Adds what a person typed or pasted, one address or path a line.
     *
     * @return array{added: int, known: int, refused: list<array{line: int, text: string, why: string}>}
     */
    public function addTyped(Site $site, string $text): array
    {
        $good = $refused = [];
        foreach (preg_split('/\R/', $text) ?: [] as $i => $line) {
            $line = trim($line);
            if ($line === '') {
                continue;
            }
            $address = Address::resolve($line, $this->home($site));
            $host = $address === null ? '' : AddressFacts::of($address)->host;
            if ($address === null || ! in_array($host, $site->hosts, true)) {
                $refused[] = [
                    'line' => $i + 1, 'text' => mb_strcut($line, 0, 200, 'UTF-8'),
                    'why' => $address === null ? 'This is no address of a page.' : "The host {$host} is none of this site's (".implode(', ', $site->hosts).').',
                ];
                continue;
            }
            $good[] = $address;
        }
        $good = array_values(array_unique($good));
        $added = count($this->add($site, $good, 'typed'));

        return ['added' => $added, 'known' => count($good) - $added, 'refused' => $refused];
    }

    /** The page of an address as somebody types it. */
    public function known(Site $site, string $typed): ?Page
    {
        $address = Address::resolve(trim($typed), $this->home($site));

        return $address === null ? null : $site->pages()->where('hash', self::hash($address))->where('url', $address)->first();
    }

    /**
     * Addresses that events came from and that are no pages of the inventory: anybody can send events, so they are offered to
     * a person, and not fetched before. With a port they are not offered at all, unless the site's pages have it.
     *
     * @return list<string> so many at most
     */
    public function seen(Site $site, int $most): array
    {
        $home = $this->home($site);
        $rows = DB::table('addresses')->where('site_id', $site->id)->where('listed', false)->limit(self::AT_ONCE)->pluck('url');

        return $rows->map(static fn (string $url): ?string => Address::resolve((string) preg_replace('/[?#].*/s', '', $url)))
            ->filter(static fn (?string $url): bool => $url !== null && in_array(AddressFacts::of($url)->host, $site->hosts, true) && self::isAtPortOf($url, $home))
            ->unique()->take($most)->values()->all();
    }

    /** Whether an address has no port of its own, or that of another one. */
    public static function isAtPortOf(string $url, string $other): bool
    {
        $port = static fn (string $one): string => preg_match('~\Ahttps?://[^/?#]*:(\d+)(?=[/?#]|\z)~i', $one, $m) === 1 ? $m[1] : '';

        return in_array($port($url), ['', $port($other)], true);
    }

    /** Gives every page its key again, after the parameters that matter were changed. */
    public function rekey(Site $site): void
    {
        $site->pages()->select('id', 'url', 'page')->toBase()->chunkById(self::AT_ONCE, static function ($pages) use ($site): void {
            foreach ($pages as $page) {
                $key = PageKey::of($page->url, $site->page_parameters)->id;
                $key === (int) $page->page || Page::query()->whereKey($page->id)->update(['page' => $key]);
            }
        });
    }

    /** Sorts every page again, after the groups were changed. */
    public function regroup(Site $site): void
    {
        $groups = $site->groups();
        $site->pages()->select('id', 'url')->toBase()->chunkById(self::AT_ONCE, static function ($pages) use ($groups): void {
            $names = [];
            foreach ($pages as $page) {
                $names[self::groupOf($groups, $page->url)->name ?? ''][] = $page->id;
            }
            foreach ($names as $name => $ids) {
                Page::query()->whereIn('id', $ids)->update(['group_name' => $name === '' ? null : $name]);
            }
        });
    }

    /** The address that crawling starts from and that typed paths belong to: where the first of its pages are, else its first host. */
    public function home(Site $site): string
    {
        // Not what events tell of: anybody can send them.
        $known = [];
        foreach (array_diff(Page::SOURCES, ['seen']) as $source) {
            // Each by itself, in the order of the index: a site may have many pages.
            $known += $site->pages()->where('source', $source)->orderBy('id')->limit(50)->pluck('url', 'id')->all();
        }
        ksort($known);
        foreach ([...$known, config('pellix.demo_origin')] as $url) {
            if (is_string($url) && AddressFacts::of($url)->host === $site->hosts[0]) {
                return (string) preg_replace('~\A(https?://[^/?#]+).*\z~is', '$1/', $url);
            }
        }

        return "https://{$site->hosts[0]}/";
    }

    /** @param list<PageGroup> $groups */
    public static function groupOf(array $groups, string $url): ?PageGroup
    {
        foreach ($groups as $group) {
            if ($group->pages->matches($url)) {
                return $group;
            }
        }

        return null;
    }

    public static function hash(string $url): string
    {
        return hash('xxh3', $url);
    }
}

<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Inventory\Inventory;
use App\Inventory\PageCopies;
use App\Models\Page;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Advice\TargetSeen;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Redirect;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Inventory\Address;
use Pellix\Core\Wiring\Inventory\Links;
use Pellix\Core\Wiring\RuntimeConfiguration;

/** What the inventory knows of the pages that a redirect test leads to. */
final readonly class TargetsSeen
{
    /** Links are looked for on so many pages, those that were inspected last. */
    private const MOST_COPIES = 200;

    /**
     * @param array<string, mixed> $written
     * @param list<Experiment>     $others  those that run
     *
     * @return list<TargetSeen>
     */
    public function of(Site $site, array $written, ?PageRule $rule, array $others): array
    {
        $origin = $this->origin($site, $rule);
        $targets = [];
        foreach (($written['kind'] ?? '') === 'redirect' ? array_values((array) ($written['variants'] ?? [])) : [] as $i => $variant) {
            $url = is_string($variant['target'] ?? null) && $variant['target'] !== '' ? Address::resolve(Redirect::absolute($variant['target'], $origin)) : null;
            if ($url !== null) {
                $targets["variants.{$i}.target"] = $url;
            }
        }
        $linked = $this->linked($site, $targets);
        $seen = [];
        foreach ($targets as $field => $url) {
            $page = $this->page($site, $url);
            $chain = null;
            foreach ($others as $other) {
                $chain ??= $other->kind === 'redirect' && $other->pages->matches($url) ? $other->name : null;
            }
            $seen[] = new TargetSeen($field, $url, $page?->inspected_at !== null, array_values((array) ($page->faulty ?? [])), $linked[$field] ?? [], $chain, $page !== null && $this->hasCanonical($page), RuntimeConfiguration::shareCookie($site->hosts, AddressFacts::of($origin)->host, AddressFacts::of($url)->host));
        }

        return $seen;
    }

    /**
     * The pages that variants lead to, as they were inspected.
     *
     * @return array<string, CopiedPage> by the key of the variant
     */
    public function copies(Site $site, Experiment $experiment, PageCopies $copies): array
    {
        $origin = $this->origin($site, $experiment->pages);
        $found = [];
        foreach ($experiment->variants as $variant) {
            $url = $variant->target === null ? null : Address::resolve(Redirect::absolute($variant->target, $origin));
            $page = $url === null ? null : $this->page($site, $url);
            $copy = $page === null ? null : $copies->newest($site, [$page->id], 1, false)[0] ?? null;
            if ($copy !== null) {
                $found[$variant->variant->key] = $copy;
            }
        }

        return $found;
    }

    /** Where visitors of the experiment's pages are, as far as the inventory knows: a target that is a path is on their host. */
    private function origin(Site $site, ?PageRule $rule): string
    {
        foreach ($rule === null ? [] : $site->pages()->orderBy('brief')->limit(2000)->pluck('url') as $url) {
            if ($rule->matches($url)) {
                return (string) preg_replace('~^(https?://[^/?#]+).*~is', '$1', $url);
            }
        }
        $any = $site->pages()->orderBy('brief')->value('url');

        return $any === null ? 'https://'.($site->hosts[0] ?? 'host.invalid') : (string) preg_replace('~^(https?://[^/?#]+).*~is', '$1', $any);
    }

    private function page(Site $site, string $url): ?Page
    {
        $own = $site->pages()->where('hash', Inventory::hash($url))->first();
        // The same page is often known without what the target adds to the address.
        $plain = (string) preg_replace('/[?#].*/s', '', $url);

        return $own ?? $site->pages()->where('hash', Inventory::hash($plain))->first();
    }

    private function hasCanonical(Page $page): bool
    {
        $html = PageCopies::html($page->id);
        foreach ($html === null ? [] : PageReader::nodes($html) as $node) {
            if ($node->name === 'link' && $node->inside === null && strtolower(trim($node->attribute('rel') ?? '')) === 'canonical') {
                $canonical = Address::resolve($node->attribute('href') ?? '', $page->url);

                return $canonical !== null && $canonical !== $page->url;
            }
        }

        return false;
    }

    /**
     * @param array<string, string> $targets field => address
     *
     * @return array<string, list<string>> field => known pages with a link there
     */
    private function linked(Site $site, array $targets): array
    {
        $plain = static fn (string $url): string => (string) preg_replace('/[?#].*/s', '', $url);
        $linked = [];
        foreach ($targets === [] ? [] : DB::table('page_copies')->where('site_id', $site->id)->orderByDesc('at')->limit(self::MOST_COPIES)->pluck('url', 'page_id') as $id => $from) {
            $links = array_map($plain, array_map(strval(...), array_keys(Links::on((string) PageCopies::html((int) $id), $from))));
            foreach ($targets as $field => $url) {
                if ($plain($from) !== $plain($url) && in_array($plain($url), $links, true)) {
                    $linked[$field][] = $from;
                }
            }
        }

        return $linked;
    }
}

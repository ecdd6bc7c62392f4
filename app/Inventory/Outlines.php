<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use App\ReadModel\Readings;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Pages\Outline;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Delivery;

/** What known pages are built of, and which rehearsals saw them built otherwise. */
final readonly class Outlines
{
    public function __construct(private PageInspector $inspector)
    {
    }

    /** Keeps what a page is built of now, and tells the rehearsals that met it. */
    public static function keep(Page $page, Delivery $delivery): void
    {
        $isPage = $delivery->status < 400 && preg_match('~html~i', $delivery->contentType) === 1;
        $outline = $isPage ? Outline::of(Encoding::decode($delivery->body, $delivery->charset(), $delivery->isXml())) : null;
        // Of a page that cannot be had nobody knows what it is built of.
        if ($outline === null || $outline === $page->outline) {
            return;
        }
        $page->update(['outline' => $outline]);
        foreach (Readings::all($page->site_id, 'rehearsed') as $experiment => $rehearsed) {
            if (isset($rehearsed['about']['pages'][$page->id])) {
                Readings::keep($page->site_id, 'rehearsed', (string) $experiment, [...$rehearsed, 'pages' => self::changed((array) $rehearsed['about']['pages'])]);
            }
        }
    }

    /**
     * Inspects a page twice, and says what it is built of.
     *
     * @return array{id: int, path: string, outline: string}|null null for one that is not known, cannot be had, or is built otherwise each time
     */
    public function look(Site $site, string $url): ?array
    {
        $page = $site->pages()->where('hash', Inventory::hash($url))->first();
        if ($page === null || $this->inspector->inspect($site, $page) === null) {
            return null;
        }
        $outline = $page->outline;
        $this->inspector->inspect($site, $page);

        return $outline === null || $outline !== $page->outline ? null : ['id' => $page->id, 'path' => (string) preg_replace('~\Ahttps?://[^/?#]+~i', '', $page->url) ?: '/', 'outline' => $outline];
    }

    /**
     * @param array<int|string, array{path: string, outline: string}> $seen as `look()` gives them
     *
     * @return list<string> paths of those that are built otherwise now
     */
    public static function changed(array $seen): array
    {
        $now = DB::table('pages')->whereIn('id', array_keys($seen))->pluck('outline', 'id');

        return array_values(array_map(static fn (array $page): string => $page['path'], array_filter($seen, static fn (array $page, int|string $id): bool => isset($now[$id]) && $now[$id] !== $page['outline'], ARRAY_FILTER_USE_BOTH)));
    }
}

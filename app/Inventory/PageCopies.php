<?php

namespace App\Inventory;

use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Models\Page;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Pages\SheetDeclaration;
use Pellix\Core\Pages\SheetRules;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inventory\Address;

/** Known pages as they were at their last inspection, with the style sheets of the site that they link to. */
final readonly class PageCopies
{
    /** Of so many pages a copy is kept, the newest. */
    private const MOST_PAGES = 2000;

    /** So many style sheets are kept, the newest. */
    private const MOST_KEPT_SHEETS = 500;

    /** So many sheets of a page are fetched, each at most once in so many minutes. */
    private const MOST_SHEETS = 8;
    private const SHEET_MINUTES = 60;

    public function __construct(private PageFetcher $fetcher)
    {
    }

    public function keep(Site $site, Page $page, Delivery $delivery): void
    {
        $html = $delivery->status < 400 && preg_match('~html~i', $delivery->contentType) === 1 ? Encoding::decode($delivery->body, $delivery->charset(), $delivery->isXml()) : '';
        if ($html === '' || strlen($html) > PageCopy::MOST_BYTES) {
            DB::table('page_copies')->where('page_id', $page->id)->delete();

            return;
        }
        $now = CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v');
        DB::table('page_copies')->upsert([[
            'page_id' => $page->id, 'site_id' => $site->id, 'at' => $now, 'url' => mb_strcut($delivery->given, 0, 2000, 'UTF-8'), 'bytes' => strlen($html),
            'html' => gzencode($html, 6), 'sheets' => json_encode($this->sheets($site, $html, $delivery->given)),
        ]], ['page_id']);
        // Only now and then, since the limit need not be met to a page.
        if ($page->id % 50 === 0) {
            $this->forget($site);
        }
    }

    /**
     * The newest copies of some pages.
     *
     * @param list<int> $pages ids
     *
     * @return list<CopiedPage>
     */
    public function newest(Site $site, array $pages, int $most, bool $withSheets = true): array
    {
        $copies = [];
        foreach (DB::table('page_copies')->where('site_id', $site->id)->whereIn('page_id', $pages)->orderByDesc('at')->limit($most)->get() as $row) {
            $html = (string) gzdecode($row->html);
            $copy = PageCopy::read($html);
            if ($copy !== null) {
                $copies[] = new CopiedPage($row->url, $copy, $withSheets ? $this->declarations($site, $html, (array) json_decode($row->sheets, true)) : []);
            }
        }

        return $copies;
    }

    /** @return string|null the text of a page as it was kept */
    public static function html(int $page): ?string
    {
        $packed = DB::table('page_copies')->where('page_id', $page)->value('html');

        return $packed === null ? null : (string) gzdecode($packed);
    }

    /** @return array{html: string, sheets: list<string>, at: string}|null a page as it was inspected last, with the texts of its style sheets */
    public static function kept(Site $site, Page $page): ?array
    {
        $row = DB::table('page_copies')->where('site_id', $site->id)->where('page_id', $page->id)->first();
        if ($row === null) {
            return null;
        }
        $hashes = (array) json_decode($row->sheets, true);
        $kept = DB::table('page_sheets')->where('site_id', $site->id)->whereIn('hash', $hashes)->pluck('css', 'hash');

        return [
            'html' => (string) gzdecode($row->html),
            'sheets' => array_values(array_map(static fn (string $hash): string => (string) gzdecode($kept[$hash]), array_filter($hashes, static fn (mixed $hash): bool => is_string($hash) && isset($kept[$hash])))),
            'at' => $row->at,
        ];
    }

    /**
     * Fetches the style sheets that a page links to, those of the site's own hosts.
     *
     * @return list<string> their hashes, in the order of the page
     */
    private function sheets(Site $site, string $html, string $url): array
    {
        $hashes = [];
        foreach (PageReader::nodes($html) as $node) {
            $isSheet = $node->name === 'link' && $node->inside === null && preg_match('/(?:^|\s)stylesheet(?:\s|$)/i', $node->attribute('rel') ?? '') === 1;
            $address = $isSheet && preg_match('/\bprint\b/i', $node->attribute('media') ?? '') !== 1 ? Address::resolve($node->attribute('href') ?? '', $url) : null;
            if ($address !== null && count($hashes) < self::MOST_SHEETS && $this->fetchSheet($site, $address)) {
                $hashes[] = sha1($address);
            }
        }

        return $hashes;
    }

    private function fetchSheet(Site $site, string $address): bool
    {
        $hash = sha1($address);
        $now = CarbonImmutable::now('UTC');
        $known = DB::table('page_sheets')->where('site_id', $site->id)->where('hash', $hash)->value('at');
        if ($known !== null && $known > $now->subMinutes(self::SHEET_MINUTES)->format('Y-m-d H:i:s.v')) {
            return true;
        }
        try {
            $delivery = $this->fetcher->fetch($site, $address);
        } catch (FetchFailed) {
            return $known !== null;
        }
        if ($delivery->status >= 400 || strlen($delivery->body) > SheetRules::MOST_BYTES) {
            return false;
        }
        DB::table('page_sheets')->upsert([['site_id' => $site->id, 'hash' => $hash, 'url' => $address, 'at' => $now->format('Y-m-d H:i:s.v'), 'css' => gzencode($delivery->body, 6)]], ['site_id', 'hash']);

        return true;
    }

    /**
     * @param array<mixed> $hashes
     *
     * @return list<SheetDeclaration> of the page's own style elements and of the sheets that it links to
     */
    private function declarations(Site $site, string $html, array $hashes): array
    {
        $all = [];
        $kept = DB::table('page_sheets')->where('site_id', $site->id)->whereIn('hash', $hashes)->get()->keyBy('hash');
        foreach ($hashes as $hash) {
            $row = $kept->get($hash);
            $row !== null && array_push($all, ...SheetRules::read((string) gzdecode($row->css), (string) parse_url($row->url, PHP_URL_PATH))->all);
        }
        foreach (PageReader::nodes($html) as $node) {
            if ($node->name === 'style' && $node->inside === null && ! $node->svg) {
                array_push($all, ...SheetRules::read($node->text, 'in the page', substr_count($html, "\n", 0, $node->offset))->all);
            }
        }

        return $all;
    }

    private function forget(Site $site): void
    {
        foreach (['page_copies' => self::MOST_PAGES, 'page_sheets' => self::MOST_KEPT_SHEETS] as $table => $most) {
            $oldest = DB::table($table)->where('site_id', $site->id)->orderByDesc('at')->offset($most)->limit(1)->value('at');
            if ($oldest !== null) {
                DB::table($table)->where('site_id', $site->id)->where('at', '<=', $oldest)->delete();
            }
        }
    }
}

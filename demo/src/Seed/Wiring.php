<?php

declare(strict_types=1);

namespace Demo\Seed;

use App\Inventory\Inventory;
use App\Models\Site;
use App\Scanning\Scanner;
use Carbon\CarbonImmutable;
use Demo\Library;
use Pellix\Core\Wiring\Tags\TagSet;

/** The demo's tags in two published versions and one that is being worked on, its groups of pages, and its inventory. */
final readonly class Wiring
{
    public function __construct(private Inventory $inventory, private Scanner $scanner)
    {
    }

    public function make(Site $site, string $origin, CarbonImmutable $now): void
    {
        $first = TagSet::read([self::thanks($origin)]);
        $second = TagSet::read([self::thanks($origin), self::lamp()]);
        foreach ([[1, $first, 'Counts gifts on the shelf\'s own counter', 21], [2, $second, 'A word to whoever reads the catalogue for long', 9]] as [$number, $tags, $note, $daysAgo]) {
            $site->wiringVersions()->create([
                'number' => $number, 'author_id' => $site->users()->value('users.id'), 'author' => 'Ines Calder', 'note' => $note, 'tags' => $tags->toArray(), 'published_at' => $now->subDays($daysAgo),
            ]);
        }
        $site->update([
            'data_layer' => 'shelf',
            'data_events' => [['push' => 'bench.booked', 'name' => 'bench_booked', 'props' => ['bench' => 'booking.bench', 'deposit' => 'booking.deposit']]],
            'tags' => TagSet::read([self::thanks($origin), [...self::lamp(), 'triggers' => [['kind' => 'time', 'seconds' => 45, 'pages' => self::catalogue()]]]])->toArray(),
            'tags_revision' => 3,
            'page_groups' => [
                ['name' => 'Evening shelves (variant)', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue-evening'], 'snippet' => true, 'guard' => null, 'unlinked' => true, 'tags' => []],
                ['name' => 'Catalogue', 'pages' => self::catalogue(), 'snippet' => true, 'guard' => null, 'unlinked' => false, 'tags' => [['key' => 'shelf', 'contains' => 'window.shelf =']]],
                ['name' => 'Loan', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/loan'], 'snippet' => true, 'guard' => null, 'unlinked' => false, 'tags' => [['key' => 'shelf', 'contains' => 'window.shelf =']]],
                ['name' => 'Payment', 'pages' => ['fact' => 'url.host', 'op' => 'is', 'value' => Library::PAY_HOST], 'snippet' => false, 'guard' => null, 'unlinked' => false, 'tags' => []],
            ],
        ]);
        $at = static fn (array $paths): array => array_map(static fn (string $path): string => $origin.$path, $paths);
        $this->inventory->add($site, $at(Library::listed()), 'sitemap');
        $this->inventory->add($site, $at(['/catalogue-evening', '/press']), 'crawl');
        $this->inventory->addTyped($site, str_replace(Library::HOST, Library::DESK_HOST, $origin)."/\n".str_replace(Library::HOST, Library::PAY_HOST, $origin).'/give');
        // Its pages are inspected as soon as the demo site is served.
        $this->scanner->start($site, 'inspect', 'the first start');
    }

    /** @return array<string, mixed> */
    private static function thanks(string $origin): array
    {
        return [
            'key' => 'gift-counter', 'name' => 'Gift counter', 'kind' => 'image', 'code' => "{$origin}/counter.gif?what=gift", 'consent' => 'statistics',
            'triggers' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/donate/thanks']]], 'once' => 'session',
        ];
    }

    /** @return array<string, mixed> */
    private static function lamp(): array
    {
        return [
            'key' => 'slow-reader', 'name' => 'A word to slow readers', 'kind' => 'html', 'consent' => 'necessary',
            'code' => '<p style="position:fixed;bottom:0;left:0;right:0;margin:0;padding:.6rem;background:#4c5c2d;color:#fff;text-align:center">Not sure which one? Ask at the desk: they all play.</p>',
            'triggers' => [['kind' => 'time', 'seconds' => 60, 'pages' => self::catalogue()]], 'once' => 'session',
        ];
    }

    /** @return array<string, mixed> */
    private static function catalogue(): array
    {
        return ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue'];
    }
}

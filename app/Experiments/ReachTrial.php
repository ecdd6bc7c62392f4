<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Inventory\PageCopies;
use App\Measures\KnownPages;
use App\Measures\RecentVisitors;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Pellix\Core\Counting\Reach;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;

/** What is known of the pages and visitors that an experiment would be for: of the inventory, and of the last four weeks. */
final readonly class ReachTrial
{
    /** On so many pages an element is looked for. */
    private const MOST_COPIES = 300;

    public function __construct(private PageCopies $copies)
    {
    }

    /**
     * @param array<string, mixed>     $wanted   `pages`, `audience`, `unit`, `selector` (of the element that starts it, or null)
     * @param callable(int, int): bool $progress told how much of how much is done; false stops
     *
     * @return array<string, mixed>|null null where it was stopped
     */
    public function of(Site $site, array $wanted, CarbonImmutable $now, callable $progress): ?array
    {
        $pages = PageRule::read($wanted['pages']);
        $known = KnownPages::of($site, [$pages]);
        $reach = new Reach($pages, $wanted['audience'] === null ? null : RuleReader::read($wanted['audience']), $wanted['unit'], $now);
        $partial = RecentVisitors::each($site, $now->subWeeks(Reach::WEEKS), $progress, static fn (VisitorLog $log) => $reach->add($log->events));
        if ($partial === null) {
            return null;
        }
        $result = $reach->result(KnownPages::NAMED);

        return [
            ...$known->toArray(),
            ...$result,
            'pages' => array_map(static fn (string $url, int $n): array => ['url' => $url, 'views' => $n], array_map(strval(...), array_keys($result['pages'])), $result['pages']),
            'partial' => $partial,
            'element' => $wanted['selector'] === null ? null : $this->element($site, $wanted['selector'], $known->ids),
        ];
    }

    /**
     * @param list<int> $pages ids
     *
     * @return array{selector: string, looked: int, carrying: int, examples: list<string>}
     */
    private function element(Site $site, string $selector, array $pages): array
    {
        $looked = $carrying = 0;
        $examples = [];
        foreach (array_chunk($pages, 50) as $part) {
            foreach ($looked < self::MOST_COPIES ? $this->copies->newest($site, $part, count($part), false) : [] as $page) {
                $looked++;
                if (($page->copy->find($selector) ?? []) !== []) {
                    $carrying++;
                    count($examples) < KnownPages::NAMED && $examples[] = $page->url;
                }
            }
        }

        return ['selector' => $selector, 'looked' => $looked, 'carrying' => $carrying, 'examples' => $examples];
    }
}

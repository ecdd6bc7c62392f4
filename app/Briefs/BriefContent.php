<?php

namespace App\Briefs;

use App\Inventory\Coverage;
use App\Models\Brief;
use App\Models\Page;
use Carbon\CarbonImmutable;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Inspection\ExpectedTag;
use Pellix\Core\Wiring\Inspection\PageGroup;

/** What a brief says: which code goes onto which pages, in which order, how to check it, and which pages still miss it. */
final readonly class BriefContent
{
    private const PAGES_NAMED = 200;

    /**
     * @param list<array{name: string, text: string}>                                              $codes   in the order in which they stand in the head
     * @param list<array{name: string, total: int, must: list<string>}>                            $groups
     * @param list<array{url: string, state: string, missing: list<string>, at: CarbonImmutable|null}> $open pages that still miss something, or that nobody has looked at
     */
    private function __construct(
        public string $site,
        public string $zone,
        public string $message,
        public string $author,
        public CarbonImmutable $now,
        public CarbonImmutable $expires,
        public string $origin,
        public array $codes,
        public array $groups,
        public int $total,
        public int $sound,
        public int $openTotal,
        public array $open,
        public string $token,
    ) {
    }

    public static function of(Brief $brief, CarbonImmutable $now): self
    {
        $site = $brief->site;
        $list = Coverage::of($site)->list([], 1);
        $open = ['broken', 'doubt', 'unseen'];
        $pages = $site->pages()->whereIn('rank', array_map(Page::rankOf(...), $open))->orderBy('rank')->orderBy('brief');
        $coverage = Coverage::of($site);
        $zone = $site->time_zone;

        return new self(
            $site->name,
            $zone,
            $brief->message,
            $brief->author,
            $now->setTimezone($zone),
            $brief->expires_at->setTimezone($zone),
            rtrim((string) config('app.url'), '/'),
            [
                ...($brief->guard_ms === null ? [] : [['name' => 'The flicker guard', 'text' => Guard::text($brief->guard_ms)]]),
                ['name' => 'The snippet', 'text' => $site->snippet()],
            ],
            self::groups($site->groups(), $list['groups']),
            $list['inventory'],
            (int) $list['states']['holds'],
            array_sum(array_intersect_key($list['states'], array_flip($open))),
            $pages->limit(self::PAGES_NAMED)->get()->map(static function (Page $page) use ($coverage, $zone): array {
                $row = $coverage->row($page);

                return [
                    'url' => $page->url,
                    'state' => $page->inspected_at === null ? 'not looked at yet' : (in_array('page', $page->faulty, true) ? 'cannot be reached' : 'misses something'),
                    'missing' => array_column(array_filter($row['required'], static fn (array $one): bool => $one['stands'] === false), 'code'),
                    'at' => $page->inspected_at?->setTimezone($zone),
                ];
            })->all(),
            $brief->token,
        );
    }

    /**
     * @param list<PageGroup>            $groups
     * @param list<array<string, mixed>> $counts
     *
     * @return list<array{name: string, total: int, must: list<string>}>
     */
    private static function groups(array $groups, array $counts): array
    {
        $totals = array_column($counts, 'total', 'name');
        $rows = array_map(static fn (PageGroup $group): array => [
            'name' => $group->name,
            'total' => (int) ($totals[$group->name] ?? 0),
            'must' => [
                ...($group->guard === true ? ['the flicker guard'] : []),
                ...($group->snippet ? ['the snippet'] : ['nothing of Pellix']),
                ...array_map(static fn (ExpectedTag $tag): string => "the tag {$tag->key} (known by {$tag->contains})".($tag->after === null ? '' : ", after {$tag->after}"), $group->tags),
            ],
        ], $groups);

        return [...$rows, ['name' => $groups === [] ? 'All pages' : 'All other pages', 'total' => (int) ($totals[''] ?? 0), 'must' => ['the snippet']]];
    }
}

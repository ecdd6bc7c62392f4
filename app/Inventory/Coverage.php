<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Pellix\Core\Formats\Csv;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Wiring\Inspection\ExpectedTag;
use Pellix\Core\Wiring\Inspection\PageGroup;

/** The pages of a site by the code that they must have: which has it, which has not, and since when that is known. */
final readonly class Coverage
{
    public const STATES = ['holds', 'doubt', 'broken', 'unseen', 'stale'];

    public const PER_PAGE = 100;

    /**
     * @param array<string, PageGroup>                     $groups by name
     * @param list<array{string|null, string, string, int}> $cells group, source, state and how many pages
     */
    private function __construct(private Site $site, private array $groups, private array $cells)
    {
    }

    public static function of(Site $site): self
    {
        $groups = $site->groups();

        return new self($site, array_combine(array_map(static fn (PageGroup $group): string => $group->name, $groups), $groups), CoverageFigures::cells($site));
    }

    /**
     * @param array<string, string> $filters state, source, group, code, q, sort
     *
     * @return array<string, mixed>
     */
    public function list(array $filters, int $page): array
    {
        $search = new PageSearch($this->site, $filters);
        $before = ($page - 1) * self::PER_PAGE;
        if ($search->isCounted()) {
            $ids = $search->all();
            $found = count($ids);
            $shown = array_slice($ids, $before, self::PER_PAGE);
        } else {
            $found = $this->total($filters);
            $shown = $search->part($before, self::PER_PAGE, $found);
        }
        $rows = Page::query()->whereIn('id', $shown)->get()->keyBy('id');

        return [
            'total' => $found,
            'capped' => $search->isCounted() && $found >= PageSearch::MOST_COUNTED,
            'pages' => array_values(array_filter(array_map(fn (int $id): ?array => isset($rows[$id]) ? $this->row($rows[$id]) : null, $shown))),
            'per_page' => self::PER_PAGE,
            'states' => $this->sums(static fn (): bool => true),
            'groups' => array_map(fn (?string $name): array => $this->group($name), [...array_map(strval(...), array_keys($this->groups)), null]),
            'inventory' => $this->sum(static fn (): bool => true),
        ];
    }

    /** @param array<string, string> $filters */
    public function writeCsv(array $filters, string $target): void
    {
        $file = fopen($target, 'w');
        $put = static fn (array $fields) => fputcsv($file, array_map(Csv::harmless(...), $fields), ',', '"', '', "\r\n");
        $put(['url', 'group', 'source', 'state', 'inspected', 'must have', 'missing or broken']);
        foreach ((new PageSearch($this->site, $filters))->pages() as $page) {
            $row = $this->row($page);
            $put([
                $row['url'], $row['group'] ?? '', $row['source'], $row['state'], $page->inspected_at === null ? '' : Moment::format($page->inspected_at),
                implode(' ', array_column($row['required'], 'code')),
                implode(' ', array_column(array_filter($row['required'], static fn (array $one): bool => $one['stands'] === false), 'code')),
            ]);
        }
        fclose($file);
    }

    /** @return array<string, mixed> */
    public function row(Page $page): array
    {
        return [
            'id' => $page->id,
            'url' => $page->url,
            'source' => $page->source,
            'in_sitemap' => $page->in_sitemap,
            'group' => $page->group_name,
            'state' => Page::STATES[$page->rank],
            'inspected_at' => $page->inspected_at,
            'required' => $this->required($page),
        ];
    }

    /**
     * Each piece of code that the page must have, and whether it stands there; null where nobody has looked.
     *
     * @return list<array{code: string, stands: bool|null}>
     */
    private function required(Page $page): array
    {
        $group = $this->groups[$page->group_name ?? ''] ?? null;
        $codes = [
            ...($group === null || $group->snippet ? ['snippet'] : []),
            ...($group?->guard === true ? ['guard'] : []),
            ...array_map(static fn (ExpectedTag $tag): string => "tag:{$tag->key}", $group->tags ?? []),
        ];
        $unknown = $page->inspected_at === null || in_array('page', $page->faulty, true);

        return array_map(static fn (string $code): array => ['code' => $code, 'stands' => $unknown ? null : ! in_array($code, $page->faulty, true)], $codes);
    }

    /** @param array<string, string> $filters */
    private function total(array $filters): int
    {
        return $this->sum(static fn (?string $group, string $source, string $state): bool => in_array($filters['state'] ?? $state, [$state], true)
            && in_array($filters['source'] ?? $source, [$source], true)
            && (! isset($filters['group']) || $filters['group'] === ($group ?? '-')));
    }

    /** @return array{name: string|null, total: int, states: array<string, int>} */
    private function group(?string $name): array
    {
        $isOwn = static fn (?string $group): bool => $group === $name;

        return ['name' => $name, 'total' => $this->sum($isOwn), 'states' => $this->sums($isOwn)];
    }

    /**
     * @param callable(string|null, string, string): bool $wanted
     *
     * @return array<string, int>
     */
    private function sums(callable $wanted): array
    {
        return array_map(
            fn (string $one): int => $this->sum(static fn (?string $group, string $source, string $state): bool => $state === $one && $wanted($group, $source, $state)),
            array_combine(self::STATES, self::STATES),
        );
    }

    /** @param callable(string|null, string, string): bool $wanted */
    private function sum(callable $wanted): int
    {
        return array_sum(array_map(static fn (array $cell): int => $wanted($cell[0], $cell[1], $cell[2]) ? $cell[3] : 0, $this->cells));
    }
}

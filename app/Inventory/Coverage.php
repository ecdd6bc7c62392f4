<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Illuminate\Database\Eloquent\Builder;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Wiring\Inspection\ExpectedTag;
use Pellix\Core\Wiring\Inspection\PageGroup;

/** The pages of a site by the code that they must have: which has it, which has not, and since when that is known. */
final readonly class Coverage
{
    public const STATES = ['holds', 'doubt', 'broken', 'unseen', 'stale'];

    /** name => the index in whose order they come, and columns with their direction; without a name, what needs somebody comes first */
    public const SORTS = [
        '' => ['pages_by_need', ['rank' => 'asc', 'brief' => 'asc', 'id' => 'asc']],
        'url' => ['pages_by_address', ['brief' => 'asc', 'id' => 'asc']],
        '-url' => ['pages_by_address', ['brief' => 'desc', 'id' => 'desc']],
        'inspected' => ['pages_by_look', ['inspected_at' => 'asc', 'brief' => 'asc', 'id' => 'asc']],
        '-inspected' => ['pages_by_look', ['inspected_at' => 'desc', 'brief' => 'desc', 'id' => 'desc']],
    ];

    public const PER_PAGE = 100;

    /** Where words or a piece of code are looked for, so many matches are counted at most. */
    private const MOST_COUNTED = 1000;

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
        $ids = $this->ids($filters, $page);
        $found = isset($filters['q']) ? count($ids) : $this->total($filters);
        $shown = isset($filters['q']) ? array_slice($ids, ($page - 1) * self::PER_PAGE, self::PER_PAGE) : $ids;
        $rows = Page::query()->whereIn('id', $shown)->get()->keyBy('id');

        return [
            'total' => $found,
            'capped' => (isset($filters['code']) || isset($filters['q'])) && $found >= self::MOST_COUNTED,
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
        $put = static fn (array $fields) => fputcsv($file, array_map(self::harmless(...), $fields), ',', '"', '', "\r\n");
        $put(['url', 'group', 'source', 'state', 'inspected', 'must have', 'missing or broken']);
        $words = isset($filters['q']) ? '%'.addcslashes($filters['q'], '%_\\').'%' : null;
        foreach ($this->query($filters)->when($words, static fn (Builder $q, string $words) => $q->where('url', 'like', $words))->lazyById(1000) as $page) {
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

    /**
     * @param array<string, string> $filters
     *
     * @return Builder<Page>
     */
    private function query(array $filters): Builder
    {
        return Page::query()->where('site_id', $this->site->id)
            ->when($filters['state'] ?? null, static fn (Builder $q, string $state) => $q->where('rank', Page::rankOf($state)))
            ->when($filters['source'] ?? null, static fn (Builder $q, string $source) => $q->where('source', $source))
            ->when($filters['group'] ?? null, static fn (Builder $q, string $group) => $group === '-' ? $q->whereNull('group_name') : $q->where('group_name', $group))
            ->when($filters['code'] ?? null, static fn (Builder $q, string $code) => $q->where('flawed', true)->whereJsonContains('faulty', $code));
    }

    /**
     * The pages of one screen, in order; where words are looked for, of all that were found. Only then are whole rows read:
     * what is needed to filter and to sort stands in narrow indexes.
     *
     * @param array<string, string> $filters
     *
     * @return list<int>
     */
    private function ids(array $filters, int $page): array
    {
        [$index, $columns] = self::SORTS[$filters['sort'] ?? ''];
        // Another filter may have an index that finds less to look through.
        $isPlain = array_diff_key($filters, ['q' => 0, 'sort' => 0, 'state' => 0]) === [] && (! isset($filters['state']) || ! isset($filters['sort']));
        $query = $this->query($filters)->toBase();
        $inOrder = (clone $query)->when($isPlain, static fn ($q) => $q->forceIndex($index));
        $before = ($page - 1) * self::PER_PAGE;
        $rows = self::PER_PAGE;
        // Whoever wants one of the last pages is nearer from the end.
        $total = isset($filters['q']) || isset($filters['code']) ? 0 : $this->total($filters);
        $isBackwards = $before > $total / 2 && $before < $total;
        if ($isBackwards) {
            $rows = min(self::PER_PAGE, $total - $before);
            $before = $total - $before - $rows;
        }
        foreach ($columns as $column => $direction) {
            $inOrder->orderBy($column, ($direction === 'desc') === $isBackwards ? 'asc' : 'desc');
        }
        if (! isset($filters['q'])) {
            $ids = array_map(intval(...), $inOrder->offset($before)->limit($rows)->pluck('id')->all());

            return $isBackwards ? array_reverse($ids) : $ids;
        }
        $words = '%'.addcslashes(mb_strtolower($filters['q']), '%_\\').'%';
        $found = $inOrder->where('brief', 'like', $words)->limit(self::MOST_COUNTED)->pluck('id')->all();
        // Few addresses are longer than what is kept of them to be found by.
        $longer = $query->where('cut', true)->where('brief', 'not like', $words)->where('url', 'like', $words)->limit(self::MOST_COUNTED)->pluck('id')->all();

        return array_map(intval(...), array_slice([...$found, ...$longer], 0, self::MOST_COUNTED));
    }

    /** @param array<string, string> $filters */
    private function total(array $filters): int
    {
        if (isset($filters['code'])) {
            return count($this->query($filters)->limit(self::MOST_COUNTED)->pluck('id')->all());
        }

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

    /** A cell that a spreadsheet would take for a formula becomes a text. */
    private static function harmless(string $cell): string
    {
        return preg_match('/\A[=+\-@\t\r]/', $cell) === 1 ? "'{$cell}" : $cell;
    }
}

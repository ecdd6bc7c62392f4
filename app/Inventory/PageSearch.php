<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Query\Builder as Query;
use Illuminate\Support\LazyCollection;

/** Pages of a site that pass filters, in an order: found in narrow indexes, so that whole rows are read of those alone that are shown. */
final readonly class PageSearch
{
    /** name => the index in whose order they come, and columns with their direction; without a name, what needs somebody comes first */
    public const SORTS = [
        '' => ['pages_by_need', ['rank' => 'asc', 'brief' => 'asc', 'id' => 'asc']],
        'url' => ['pages_by_address', ['brief' => 'asc', 'id' => 'asc']],
        '-url' => ['pages_by_address', ['brief' => 'desc', 'id' => 'desc']],
        'inspected' => ['pages_by_look', ['inspected_at' => 'asc', 'brief' => 'asc', 'id' => 'asc']],
        '-inspected' => ['pages_by_look', ['inspected_at' => 'desc', 'brief' => 'desc', 'id' => 'desc']],
    ];

    /** Where words or a piece of code are looked for, so many matches are counted at most. */
    public const MOST_COUNTED = 1000;

    /** Where words stand in more pages than that, going through an index in order meets enough of them soon. */
    private const FEW = 2000;

    /** @param array<string, string> $filters state, source, group, code, q, sort */
    public function __construct(private Site $site, private array $filters)
    {
    }

    /** Whether how many there are is only known from looking for them. */
    public function isCounted(): bool
    {
        return isset($this->filters['q']) || isset($this->filters['code']);
    }

    /** @return list<int> ids of what was found, in order, so many at most as are counted */
    public function all(): array
    {
        if (! isset($this->filters['q'])) {
            return self::ids($this->inOrder(false)->limit(self::MOST_COUNTED));
        }
        $words = mb_strtolower($this->filters['q']);
        $few = AddressBlocks::find($this->site, $words, self::FEW);
        $like = '%'.addcslashes($words, '%_\\').'%';
        $found = $few === null ? $this->inOrder(false)->where('brief', 'like', $like) : $this->ordered($this->query()->toBase()->whereIn('id', $few), false);
        // Few addresses are longer than what is kept of them to be found by.
        $longer = $this->query()->toBase()->where('cut', true)->where('brief', 'not like', $like)->where('url', 'like', $like);

        return array_slice([...self::ids($found->limit(self::MOST_COUNTED)), ...self::ids($longer->limit(self::MOST_COUNTED))], 0, self::MOST_COUNTED);
    }

    /** @return list<int> ids of at most `$rows` pages after the first `$before`, of `$total` as counted last */
    public function part(int $before, int $rows, int $total): array
    {
        // Whoever wants one of the last pages is nearer from the end.
        if ($before <= $total / 2 || $before >= $total) {
            return self::ids($this->inOrder(false)->offset($before)->limit($rows));
        }
        $rows = min($rows, $total - $before);

        return array_reverse(self::ids($this->inOrder(true)->offset($total - $before - $rows)->limit($rows)));
    }

    /** @return LazyCollection<int, Page> all of them, whole, in the order in which they came */
    public function pages(): LazyCollection
    {
        $words = isset($this->filters['q']) ? '%'.addcslashes($this->filters['q'], '%_\\').'%' : null;

        return $this->query()->when($words, static fn (Builder $q, string $words) => $q->where('url', 'like', $words))->lazyById(1000);
    }

    /** @return Builder<Page> */
    private function query(): Builder
    {
        $filters = $this->filters;

        return Page::query()->where('site_id', $this->site->id)
            ->when($filters['state'] ?? null, static fn (Builder $q, string $state) => $q->where('rank', Page::rankOf($state)))
            ->when($filters['source'] ?? null, static fn (Builder $q, string $source) => $q->where('source', $source))
            ->when($filters['group'] ?? null, static fn (Builder $q, string $group) => $group === '-' ? $q->whereNull('group_name') : $q->where('group_name', $group))
            ->when($filters['code'] ?? null, static fn (Builder $q, string $code) => $q->where('flawed', true)->whereJsonContains('faulty', $code));
    }

    private function inOrder(bool $isBackwards): Query
    {
        // Another filter may have an index that finds less to look through.
        $isPlain = array_diff_key($this->filters, ['q' => 0, 'sort' => 0, 'state' => 0]) === [] && (! isset($this->filters['state']) || ! isset($this->filters['sort']));

        return $this->ordered($this->query()->toBase()->when($isPlain, fn ($q) => $q->forceIndex($this->sort()[0])), $isBackwards);
    }

    private function ordered(Query $query, bool $isBackwards): Query
    {
        foreach ($this->sort()[1] as $column => $direction) {
            $query->orderBy($column, ($direction === 'desc') === $isBackwards ? 'asc' : 'desc');
        }

        return $query;
    }

    /** @return array{string, array<string, string>} */
    private function sort(): array
    {
        return self::SORTS[$this->filters['sort'] ?? ''];
    }

    /** @return list<int> */
    private static function ids(Query $query): array
    {
        return array_map(intval(...), $query->pluck('id')->all());
    }
}

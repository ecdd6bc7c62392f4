<?php

namespace App\Inventory;

use App\Models\Page;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Wiring\Inspection\ExpectedTag;
use Pellix\Core\Wiring\Inventory\PageGroup;

/** The pages of a site by the code that they must have: which has it, which has not, and since when that is known. */
final readonly class Coverage
{
    public const STATES = ['holds', 'doubt', 'broken', 'unseen', 'stale'];

    /** name => column and direction */
    public const SORTS = ['url' => ['url', 'asc'], '-url' => ['url', 'desc'], 'inspected' => ['inspected_at', 'asc'], '-inspected' => ['inspected_at', 'desc']];

    public const PER_PAGE = 100;

    private const STATE = "case when inspected_at is null then 'unseen' when inspected_at < ? then 'stale' when verdict = 'sound' then 'holds' else verdict end";

    /** @param array<string, PageGroup> $groups by name */
    private function __construct(private Site $site, private array $groups, private string $fresh)
    {
    }

    public static function of(Site $site): self
    {
        $groups = $site->groups();

        return new self(
            $site,
            array_combine(array_map(static fn (PageGroup $group): string => $group->name, $groups), $groups),
            CarbonImmutable::now('UTC')->subSeconds($site->fresh_seconds)->format('Y-m-d H:i:s.v'),
        );
    }

    /**
     * @param array<string, string> $filters state, source, group, code, q, sort
     *
     * @return array<string, mixed>
     */
    public function list(array $filters, int $page): array
    {
        $query = $this->query($filters);

        return [
            'total' => (clone $query)->count(),
            'pages' => $this->sorted($query, $filters)->forPage($page, self::PER_PAGE)->get()->map($this->row(...))->all(),
            'per_page' => self::PER_PAGE,
            'states' => $this->counts(self::STATE.' as state', 'state', [$this->fresh]),
            'groups' => $this->groupCounts(),
            'inventory' => $this->site->pages()->count(),
        ];
    }

    /** @param array<string, string> $filters */
    public function writeCsv(array $filters, string $target): void
    {
        $file = fopen($target, 'w');
        $put = static fn (array $fields) => fputcsv($file, array_map(self::harmless(...), $fields), ',', '"', '', "\r\n");
        $put(['url', 'group', 'source', 'state', 'inspected', 'must have', 'missing or broken']);
        foreach ($this->sorted($this->query($filters), $filters)->cursor() as $page) {
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
            'state' => self::stateOf($page, $this->fresh),
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

    private static function stateOf(Page $page, string $fresh): string
    {
        return match (true) {
            $page->inspected_at === null => 'unseen',
            $page->inspected_at->format('Y-m-d H:i:s.v') < $fresh => 'stale',
            default => ['sound' => 'holds'][$page->verdict] ?? (string) $page->verdict,
        };
    }

    /**
     * @param array<string, string> $filters
     *
     * @return HasMany<Page, Site>
     */
    private function query(array $filters): HasMany
    {
        return $this->site->pages()
            ->when($filters['state'] ?? null, fn (Builder $q, string $state) => $q->whereRaw(self::STATE.' = ?', [$this->fresh, $state]))
            ->when($filters['source'] ?? null, fn (Builder $q, string $source) => $q->where('source', $source))
            ->when($filters['group'] ?? null, fn (Builder $q, string $group) => $group === '-' ? $q->whereNull('group_name') : $q->where('group_name', $group))
            ->when($filters['code'] ?? null, fn (Builder $q, string $code) => $q->whereJsonContains('faulty', $code))
            ->when($filters['q'] ?? null, fn (Builder $q, string $words) => $q->where('url', 'like', '%'.addcslashes($words, '%_\\').'%'));
    }

    /**
     * @param HasMany<Page, Site>   $query
     * @param array<string, string> $filters
     *
     * @return HasMany<Page, Site>
     */
    private function sorted(HasMany $query, array $filters): HasMany
    {
        if (! isset($filters['sort'])) {
            // What needs somebody comes first.
            return $query->orderByRaw('field('.self::STATE.", 'broken', 'doubt', 'stale', 'unseen', 'holds')", [$this->fresh])->orderBy('url');
        }

        return $query->orderBy(...self::SORTS[$filters['sort']])->orderBy('id');
    }

    /**
     * @param list<string> $values
     *
     * @return array<string, int>
     */
    private function counts(string $select, string $by, array $values): array
    {
        $found = $this->site->pages()->selectRaw("{$select}, count(*) as n", $values)->groupBy($by)->pluck('n', $by)->all();

        return array_map(static fn (string $state): int => (int) ($found[$state] ?? 0), array_combine(self::STATES, self::STATES));
    }

    /** @return list<array<string, mixed>> */
    private function groupCounts(): array
    {
        $rows = $this->site->pages()->selectRaw('group_name, '.self::STATE.' as state, count(*) as n', [$this->fresh])->groupBy('group_name', 'state')->get();
        $names = [...array_keys($this->groups), null];

        return array_map(static function (?string $name) use ($rows): array {
            $own = $rows->where('group_name', $name);

            return [
                'name' => $name,
                'total' => (int) $own->sum('n'),
                'states' => array_map(static fn (string $state): int => (int) $own->where('state', $state)->sum('n'), array_combine(self::STATES, self::STATES)),
            ];
        }, $names);
    }

    /** A cell that a spreadsheet would take for a formula becomes a text. */
    private static function harmless(string $cell): string
    {
        return preg_match('/\A[=+\-@\t\r]/', $cell) === 1 ? "'{$cell}" : $cell;
    }
}

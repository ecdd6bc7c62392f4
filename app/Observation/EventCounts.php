<?php

declare(strict_types=1);

namespace App\Observation;

use App\Models\Site;
use Carbon\CarbonImmutable;
use DateTimeInterface;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Chain\Seen;

/** Counts over the events of one site in certain stretches of time. Every query is answered from an index alone. */
final readonly class EventCounts
{
    /** @param non-empty-list<array{DateTimeInterface, DateTimeInterface|null}> $stretches from and to; an open end is null */
    public function __construct(private Site $site, private array $stretches)
    {
    }

    public function accepted(): int
    {
        return $this->events('events_times')->count();
    }

    /** Without the number of visitors, which is costly over a whole site and of no use here. */
    public function siteViews(): Seen
    {
        return self::seen($this->pageViews()->selectRaw('count(*) as count, 0 as visitors, max(time) as last')->first());
    }

    /** @param list<string> $pages page hashes */
    public function views(array $pages): Seen
    {
        return self::seen($this->pageViews()->whereIn('page', $pages)->selectRaw(self::SEEN)->first());
    }

    /**
     * Exposure events per variant; `visitors` counts those seen in that variant only.
     *
     * @return array{0: array<string, Seen>, 1: int} per variant, and the number of visitors seen in several
     */
    public function exposures(string $experiment): array
    {
        $rows = DB::query()->fromSub($this->exposed($experiment), 'exposed')
            ->groupBy('variant', 'crossed')
            ->selectRaw('variant, crossed, sum(exposures) as count, count(*) as visitors, max(last) as last')
            ->get();

        return [
            $rows->where('crossed', 0)->keyBy('variant')->map(self::seen(...))->all(),
            (int) $rows->where('crossed', 1)->sum('visitors'),
        ];
    }

    public function entered(string $experiment): Seen
    {
        return self::seen($this->speaking($experiment, 'exposure')->selectRaw(self::SEEN)->first());
    }

    /** @return array<string, Seen> per variant: events of one name that speak of an experiment */
    public function perVariant(string $experiment, string $name): array
    {
        return $this->speaking($experiment, $name)->groupBy('variant')->selectRaw('variant, '.self::SEEN)
            ->get()->keyBy('variant')->map(self::seen(...))->all();
    }

    /**
     * Hits of a goal by exposed visitors, at or after their first exposure, as the goal counts them.
     *
     * @param string $count `visitor`, `session` or `every`
     *
     * @return array<string, Seen> per variant
     */
    public function hits(string $experiment, int $goal, string $count): array
    {
        return DB::query()->fromSub($this->exposed($experiment), 'exposed')
            ->joinSub(
                $this->goalHits($goal)->select('visitor', 'time', 'session'),
                'hit',
                fn ($join) => $join->on('hit.visitor', 'exposed.visitor')->on('hit.time', '>=', 'exposed.first'),
            )
            ->where('crossed', 0)
            ->groupBy('variant')
            ->selectRaw('variant, '.self::counted($count, 'hit.').' as count, count(distinct hit.visitor) as visitors, max(hit.time) as last')
            ->get()->keyBy('variant')->map(self::seen(...))->all();
    }

    /** Hits of a goal by anybody. */
    public function everyHit(int $goal, string $count): Seen
    {
        return self::seen($this->goalHits($goal)->selectRaw(self::counted($count, '').' as count, count(distinct visitor) as visitors, max(time) as last')->first());
    }

    /** @return array<string, string> visitor => variant, of the newest exposures */
    public function newestAssignments(string $experiment, int $most): array
    {
        return $this->speaking($experiment, 'exposure')->orderByDesc('time')->limit($most)->pluck('variant', 'visitor')->all();
    }

    public function rejected(): Seen
    {
        return self::seen($this->rejects()->selectRaw('count(*) as count, 0 as visitors, max(received) as last')->first());
    }

    public function commonReason(): ?string
    {
        return $this->rejects()->groupBy('reason')->orderByRaw('count(*) desc')->value('reason');
    }

    public static function moment(?string $time): ?CarbonImmutable
    {
        return $time === null ? null : CarbonImmutable::parse($time, 'UTC');
    }

    private const SEEN = 'count(*) as count, count(distinct visitor) as visitors, max(time) as last';

    private function exposed(string $experiment): Builder
    {
        return $this->speaking($experiment, 'exposure')->groupBy('visitor')->selectRaw(
            'visitor, min(variant) as variant, min(variant) <> max(variant) as crossed, count(*) as exposures, min(time) as first, max(time) as last',
        );
    }

    private function speaking(string $experiment, string $name): Builder
    {
        return $this->events('events_experiments')->where('experiment', $experiment)->where('name', $name)->whereNotNull('variant');
    }

    /** An order that was sent again counts once, the first time. */
    private function goalHits(int $goal): Builder
    {
        return $this->within(DB::table('goal_hits')->where('goal_id', $goal)->whereRaw(
            'not exists (select 1 from goal_hits earlier where earlier.goal_id = goal_hits.goal_id and earlier.order_id = goal_hits.order_id and (earlier.time, earlier.id) < (goal_hits.time, goal_hits.id))',
        ), 'time');
    }

    private static function counted(string $count, string $table): string
    {
        return match ($count) {
            'visitor' => "count(distinct {$table}visitor)",
            'session' => "count(distinct {$table}visitor, {$table}session)",
            default => 'count(*)',
        };
    }

    private function pageViews(): Builder
    {
        return $this->events('events_pages')->where('name', 'page_view');
    }

    /** The index is named because the optimizer, going by stale statistics, at times reads whole rows instead. */
    private function events(string $index): Builder
    {
        return $this->within(DB::table('events')->forceIndex($index)->where('site_id', $this->site->id), 'time');
    }

    private function rejects(): Builder
    {
        return $this->within(DB::table('rejected_events')->where('site_id', $this->site->id), 'received');
    }

    private function within(Builder $query, string $column): Builder
    {
        return $query->where(function (Builder $any) use ($column): void {
            foreach ($this->stretches as [$from, $to]) {
                $any->orWhere(function (Builder $one) use ($column, $from, $to): void {
                    $one->where($column, '>=', $from->format('Y-m-d H:i:s.v'));
                    if ($to !== null) {
                        $one->where($column, '<=', $to->format('Y-m-d H:i:s.v'));
                    }
                });
            }
        });
    }

    private static function seen(?object $row): Seen
    {
        return $row === null ? new Seen() : new Seen((int) $row->count, (int) $row->visitors, self::moment($row->last));
    }
}

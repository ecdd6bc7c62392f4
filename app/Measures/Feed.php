<?php

namespace App\Measures;

use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\TrackingPlan;

/** The newest events of a site, accepted and rejected, with how each keeps to the tracking plan. */
final class Feed
{
    private const AT_ONCE = 100;

    /**
     * @param array<string, string> $filters page, event, experiment, variant, visitor, mine (a person's mark)
     *
     * @return array<string, mixed> the newest first; `after` and `after_rejected` are where the next look begins
     */
    public function newest(Site $site, array $filters, int $after, int $afterRejected): array
    {
        $plan = Plan::of($site);
        $rows = self::events($site, $filters)->where('id', '>', $after)->orderByDesc('id')->limit(self::AT_ONCE)
            ->get(['id', 'event_id', 'visitor', 'time', 'received', 'name', 'url', 'experiment', 'variant', 'props']);
        // Whoever filters by a visitor or an experiment looks for accepted events: a rejected one has no such field to go by.
        $rejected = array_diff_key($filters, ['page' => 0]) === []
            ? DB::table('rejected_events')->where('site_id', $site->id)->where('id', '>', $afterRejected)
                ->when($filters['page'] ?? null, fn (Builder $q, string $page) => $q->where('sample', 'like', '%'.addcslashes($page, '%_\\').'%'))
                ->orderByDesc('id')->limit(self::AT_ONCE)->get()
            : collect();

        return [
            'after' => (int) ($rows->first()->id ?? $after),
            'after_rejected' => (int) ($rejected->first()->id ?? $afterRejected),
            'events' => $rows->map(fn (object $row): array => self::row($row, $plan))->all(),
            'rejected' => $rejected->map(static fn (object $row): array => [
                'key' => "r{$row->id}", 'received' => CarbonImmutable::parse($row->received, 'UTC'), 'reason' => $row->reason, 'message' => $row->message, 'sample' => $row->sample,
            ])->all(),
        ];
    }

    /** @return array<string, mixed> */
    private static function row(object $row, TrackingPlan $plan): array
    {
        return [
            'key' => $row->event_id,
            'visitor' => $row->visitor,
            'time' => CarbonImmutable::parse($row->time, 'UTC'),
            'received' => CarbonImmutable::parse($row->received, 'UTC'),
            'name' => $row->name,
            'url' => $row->url,
            'experiment' => $row->experiment,
            'variant' => $row->variant,
            'verdict' => $plan->judge($row->name, (array) json_decode($row->props, true))['verdict'],
        ];
    }

    /** @param array<string, string> $filters */
    private static function events(Site $site, array $filters): Builder
    {
        $like = static fn (string $text): string => '%'.addcslashes($text, '%_\\').'%';

        return DB::table('events')->where('site_id', $site->id)
            ->when($filters['page'] ?? null, fn (Builder $q, string $page) => $q->where('url', 'like', $like($page)))
            ->when($filters['event'] ?? null, fn (Builder $q, string $event) => $q->where('name', $event))
            ->when($filters['experiment'] ?? null, fn (Builder $q, string $experiment) => $q->where('experiment', $experiment))
            ->when($filters['variant'] ?? null, fn (Builder $q, string $variant) => $q->where('variant', $variant))
            ->when($filters['visitor'] ?? null, fn (Builder $q, string $visitor) => $q->where('visitor', $visitor))
            ->when($filters['mine'] ?? null, fn (Builder $q, string $mark) => $q->whereRaw("json_value(props, '$.me') = ?", [$mark]));
    }
}

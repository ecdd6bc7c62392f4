<?php

namespace App\Measures;

use App\Collector\Apart;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Database\Query\Builder;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\TrackingPlan;

/** The newest events of a site, accepted and rejected, with how each keeps to the tracking plan. */
final class Feed
{
    private const AT_ONCE = 100;

    /** Whoever looks again shows no more than so many. */
    private const MOST = 300;

    /** Among so many of the newest events is looked for what no index finds. */
    private const LOOKED_THROUGH = 3000;

    /**
     * @param array<string, string> $filters page, event, experiment, variant, visitor, mine (a person's mark), rehearsal and preview (what rehearsals and previews sent, which is kept apart)
     *
     * @return array<string, mixed> the newest first; `after` (milliseconds of receipt) and `after_rejected` are where the next look begins: whoever looks
     *                              again begins a little earlier, since an event may be committed after one that came later
     */
    public function newest(Site $site, array $filters, int $after, int $afterRejected): array
    {
        $plan = Plan::of($site);
        foreach (Apart::cases() as $kind) {
            if (isset($filters[$kind->value])) {
                return $this->apart($kind, $site, array_diff_key($filters, array_column(Apart::cases(), null, 'value')), $after, $afterRejected, $plan);
            }
        }
        $rows = self::events($site, $filters, $after);
        // Whoever filters by a visitor or an experiment looks for accepted events: a rejected one has no such field to go by.
        $rejected = array_diff_key($filters, ['page' => 0]) === [] ? self::rejected($site, $filters['page'] ?? null, $afterRejected)->all() : [];

        return [
            'after' => $rows->isEmpty() ? $after : (int) CarbonImmutable::parse($rows->first()->received, 'UTC')->getTimestampMs(),
            'after_rejected' => (int) ($rejected[0]->id ?? $afterRejected),
            'events' => $rows->map(fn (object $row): array => self::row($row, $plan))->all(),
            'rejected' => array_map(static fn (object $row): array => [
                'key' => "r{$row->id}", 'received' => CarbonImmutable::parse($row->received, 'UTC'), 'reason' => $row->reason, 'message' => $row->message, 'sample' => $row->sample,
            ], $rejected),
        ];
    }

    /**
     * @param array<string, string> $filters
     *
     * @return array<string, mixed> the same of what rehearsals or previews sent
     */
    private function apart(Apart $kind, Site $site, array $filters, int $after, int $afterRejected, TrackingPlan $plan): array
    {
        $own = static fn (): Builder => DB::table($kind->table())->where('site_id', $site->id);
        $rows = $own()->whereNull('rejected')->where('received', '>', CarbonImmutable::createFromTimestampMsUTC($after)->format('Y-m-d H:i:s.v'))
            ->when($filters['visitor'] ?? null, static fn (Builder $q, string $visitor) => $q->where('visitor', $visitor))
            ->when($filters['event'] ?? null, static fn (Builder $q, string $event) => $q->where('name', $event))
            ->when($filters['experiment'] ?? null, static fn (Builder $q, string $experiment) => $q->where('experiment', $experiment))
            ->when($filters['variant'] ?? null, static fn (Builder $q, string $variant) => $q->where('variant', $variant))
            ->when($filters['page'] ?? null, static fn (Builder $q, string $page) => $q->where('url', 'like', '%'.addcslashes($page, '%_\\').'%'))
            ->orderByDesc('received')->limit($after === 0 ? self::AT_ONCE : self::MOST)->get();
        $rejected = $filters === [] ? $own()->whereNotNull('rejected')->where('id', '>', $afterRejected)->orderByDesc('id')->limit(self::AT_ONCE)->get()->all() : [];

        return [
            'after' => $rows->isEmpty() ? $after : (int) CarbonImmutable::parse($rows->first()->received, 'UTC')->getTimestampMs(),
            'after_rejected' => (int) ($rejected[0]->id ?? $afterRejected),
            'events' => $rows->map(static fn (object $row): array => self::row($row, $plan))->all(),
            'rejected' => array_map(static fn (object $row): array => ['key' => "h{$row->id}", 'received' => CarbonImmutable::parse($row->received, 'UTC'), 'reason' => $row->rejected, 'message' => (string) $row->message, 'sample' => $row->props], $rejected),
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

    /**
     * @param array<string, string> $filters
     *
     * @return Collection<int, \stdClass> the newest first
     */
    private static function events(Site $site, array $filters, int $after): Collection
    {
        $index = match (true) {
            isset($filters['visitor']) => 'primary',
            isset($filters['event']) => 'events_names',
            default => 'events_received',
        };
        $found = DB::table('events')->forceIndex($index)->where('site_id', $site->id)
            ->when($filters['visitor'] ?? null, static fn (Builder $q, string $visitor) => $q->where('visitor', $visitor))
            ->when($filters['event'] ?? null, static fn (Builder $q, string $event) => $q->where('name', $event))
            ->where('received', '>', CarbonImmutable::createFromTimestampMsUTC($after)->format('Y-m-d H:i:s.v'))->orderByDesc('received');
        $rest = array_diff_key($filters, ['visitor' => 0, 'event' => 0]);
        if ($rest !== []) {
            // What no index finds is looked for among the newest only: as they are read, since a copy of them would be made on disk.
            $oldest = (clone $found)->offset(self::LOOKED_THROUGH - 1)->limit(1)->value('received');
            $found->when($oldest, static fn (Builder $q, string $moment) => $q->where('received', '>=', $moment))
                ->when($rest['page'] ?? null, static fn (Builder $q, string $page) => $q->where('url', 'like', '%'.addcslashes($page, '%_\\').'%'))
                ->when($rest['experiment'] ?? null, static fn (Builder $q, string $experiment) => $q->where('experiment', $experiment))
                ->when($rest['variant'] ?? null, static fn (Builder $q, string $variant) => $q->where('variant', $variant))
                ->when($rest['mine'] ?? null, static fn (Builder $q, string $mark) => $q->whereRaw("json_value(props, '$.me') = ?", [$mark]));
        }

        return $found->limit($after === 0 ? self::AT_ONCE : self::MOST)->get(['event_id', 'visitor', 'time', 'received', 'name', 'url', 'experiment', 'variant', 'props']);
    }

    /** @return Collection<int, \stdClass> the newest first */
    private static function rejected(Site $site, ?string $page, int $after): Collection
    {
        $newest = DB::table('rejected_events')->where('site_id', $site->id)->where('id', '>', $after)->orderByDesc('id')->limit($page === null ? self::AT_ONCE : self::LOOKED_THROUGH);

        return $page === null ? $newest->get() : DB::query()->fromSub($newest, 'newest')->where('sample', 'like', '%'.addcslashes($page, '%_\\').'%')->orderByDesc('id')->limit(self::AT_ONCE)->get();
    }
}

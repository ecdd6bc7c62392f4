<?php

declare(strict_types=1);

namespace App\Observation;

use App\Models\Experiment;
use App\Models\Goal;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Chain\Observations;

/** Observations of experiments, gathered again only when something has arrived or changed. */
final readonly class Readings
{
    private const KEPT_SECONDS = 900;

    public function __construct(private Observer $observer, private Inspections $inspections, private Repository $cache)
    {
    }

    public function of(Experiment $experiment, CarbonImmutable $now): Observations
    {
        $state = implode(' ', [
            $experiment->changed_at->format('U.v'),
            $experiment->state,
            $experiment->site->updated_at?->format('U'),
            $this->inspections->stamp($experiment->site_id),
            $experiment->goals->map(static fn (Goal $goal): string => "{$goal->id}.{$goal->revision}")->implode(','),
            // What has stopped hardly changes: late events are seen after a while. What runs changes with every event, and
            // with the clock (a draft looks back a week, evidence grows stale).
            in_array($experiment->state, ['draft', 'running'], true)
                ? $now->format('Y-m-d H:i ').$this->arrived($experiment->site_id)
                : intdiv($now->getTimestamp(), self::KEPT_SECONDS),
        ]);
        [$readIn, $reading] = $this->cache->get("reading:{$experiment->id}") ?? [null, null];
        if ($readIn === $state) {
            return $reading;
        }
        $reading = $this->observer->observe($experiment, $now);
        $this->cache->forever("reading:{$experiment->id}", [$state, $reading]);

        return $reading;
    }

    private function arrived(int $site): string
    {
        $newest = static fn (string $table): int => (int) DB::table($table)->where('site_id', $site)->orderByDesc('id')->value('id');

        return "{$newest('events')}:{$newest('rejected_events')}";
    }
}

<?php

namespace App\Metrics;

use App\Observation\Health;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Queue;

/** Measures once a minute what `/metrics` tells: whoever asks for that reads it, and counts nothing. */
final readonly class Measurer
{
    /** Upper ends of the classes of answering times, in seconds; the last has none. */
    public const BOUNDS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1.0, 2.5];

    private const LARGEST_LOG = 8_000_000;

    /** Beyond that it is "many": counting on would cost more than it tells. */
    private const MOST_WAITING = 100_000;

    private const STATES = ['waiting', 'running', 'done', 'cancelled', 'failed'];

    public function __construct(private Measurements $measurements)
    {
    }

    public function measure(CarbonImmutable $now): void
    {
        $this->beacons();
        $this->errors();
        $this->state();
        $this->work($now);
        $this->measurements->set('pellix_measured_timestamp_seconds', [], (float) $now->getTimestamp());
    }

    /** The web server's own account of each beacon (bin/lib/nginx.conf): a status and how long the answer took. */
    private function beacons(): void
    {
        $log = new Tail(config('pellix.buckets').'/beacons.log', config('pellix.buckets').'/beacons.at');
        $answers = $classes = [];
        $seconds = 0.0;
        $timed = 0;
        foreach ($log->lines() as $line) {
            if (preg_match('/\A(\d{3}) (-|\d+\.\d+)/', $line, $m) !== 1) {
                continue;
            }
            $answers[$m[1]] = ($answers[$m[1]] ?? 0) + 1;
            // What the web server has answered itself took no time of ours.
            if ($m[2] !== '-') {
                $seconds += (float) $m[2];
                $timed++;
                foreach (self::BOUNDS as $bound) {
                    (float) $m[2] <= $bound && $classes[(string) $bound] = ($classes[(string) $bound] ?? 0) + 1;
                }
            }
        }
        $log->shorten(self::LARGEST_LOG);
        $more = array_map(static fn (int|string $status, int $n): array => ['pellix_beacons_total', ['answer' => (string) $status], (float) $n], array_keys($answers), $answers);
        foreach ($timed === 0 ? [] : self::BOUNDS as $bound) {
            $more[] = ['pellix_beacon_seconds_bucket', ['le' => (string) $bound], (float) ($classes[(string) $bound] ?? 0)];
        }
        if ($timed > 0) {
            array_push($more, ['pellix_beacon_seconds_bucket', ['le' => '+Inf'], (float) $timed], ['pellix_beacon_seconds_sum', [], $seconds], ['pellix_beacon_seconds_count', [], (float) $timed]);
        }
        $this->measurements->add($more);
    }

    private function errors(): void
    {
        $data = (string) (getenv('PELLIX_DATA') ?: dirname(storage_path()));
        $found = [];
        foreach (['application' => [storage_path('logs/laravel.log'), '/\A\[\d{4}-[^\]]+\] \w+\.(?:ERROR|CRITICAL|ALERT|EMERGENCY):/'], 'php' => ["{$data}/log/php.log", '/\A\[/'], 'web' => ["{$data}/log/nginx.log", '/ \[(?:error|crit|alert|emerg)\] /']] as $where => [$log, $pattern]) {
            $found[] = ['pellix_errors_total', ['where' => $where], 0.0];
            foreach ((new Tail($log, config('pellix.buckets')."/errors-{$where}.at"))->lines() as $line) {
                preg_match($pattern, $line) === 1 && $found[count($found) - 1][2]++;
            }
        }
        $this->measurements->add($found);
    }

    private function state(): void
    {
        $health = Health::now();
        $this->measurements->forget('pellix_process_up');
        foreach ($health->processes as $name => $lives) {
            $this->measurements->set('pellix_process_up', ['process' => $name], $lives ? 1.0 : 0.0);
        }
        $this->measurements->set('pellix_figures_age_seconds', [], (float) ($health->behind ?? 0), true);
        $data = (string) (getenv('PELLIX_DATA') ?: dirname(storage_path()));
        $total = @disk_total_space($data);
        $total > 0 && $this->measurements->set('pellix_disk_free_ratio', [], (float) @disk_free_space($data) / $total);
    }

    private function work(CarbonImmutable $now): void
    {
        $this->measurements->set('pellix_arrivals_waiting', [], (float) DB::query()->fromSub(DB::table('arrivals')->select(DB::raw('1'))->limit(self::MOST_WAITING), 'some')->count(), true);
        $this->measurements->set('pellix_jobs_waiting', [], (float) Queue::size(), true);
        $this->measurements->set('pellix_jobs_failed', [], (float) DB::table('failed_jobs')->count(), true);
        $this->measurements->set('pellix_sites_held_back', [], (float) DB::table('sites')->whereNotNull('publishing')->whereNull('archived_at')->count(), true);
        $since = $now->subDay()->format('Y-m-d H:i:s.v');
        foreach (['rehearsals', 'audits'] as $table) {
            $counts = DB::table($table)->where('asked_at', '>=', $since)->groupBy('state')->pluck(DB::raw('count(*) n'), 'state');
            foreach (self::STATES as $state) {
                $this->measurements->set("pellix_{$table}_last_day", ['state' => $state], (float) ($counts[$state] ?? 0), true);
            }
        }
    }
}

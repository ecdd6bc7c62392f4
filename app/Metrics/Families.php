<?php

namespace App\Metrics;

use Pellix\Core\Formats\Exposition;

/** What each measurement is: its type, and what it tells. docs/deploy.md lists them for whoever watches. */
final class Families
{
    private const ALL = [
        'pellix_arrivals_waiting' => ['gauge', 'Beacons that are stored and not yet counted; 100000 is that many or more.'],
        'pellix_audits_last_day' => ['gauge', 'Audits that were asked for in the last 24 hours, by their state.'],
        'pellix_beacon_seconds' => ['histogram', 'Seconds until the collector had answered a beacon.'],
        'pellix_beacons_total' => ['counter', 'Beacons, by the status of the answer.'],
        'pellix_disk_free_ratio' => ['gauge', 'Part of the disk of the data folder that is free, 0 to 1.'],
        'pellix_errors_total' => ['counter', 'Errors in the logs of the application, of PHP and of the web server.'],
        'pellix_figures_age_seconds' => ['gauge', 'How far the figures are behind what has arrived.'],
        'pellix_jobs_failed' => ['gauge', 'Jobs that were given up.'],
        'pellix_jobs_waiting' => ['gauge', 'Jobs in the queue.'],
        'pellix_measured_timestamp_seconds' => ['gauge', 'When this was measured, in seconds since 1970.'],
        'pellix_process_up' => ['gauge', 'Whether a server or worker of this machine lives.'],
        'pellix_rehearsals_last_day' => ['gauge', 'Rehearsals that were asked for in the last 24 hours, by their state.'],
        'pellix_sites_held_back' => ['gauge', 'Sites whose pages keep an older file, because the newest could not be published.'],
    ];

    private const SUFFIXES = ['_bucket', '_sum', '_count'];

    /** @param array<string, list<array{labels: array<string, string>, value: float}>> $measured by name */
    public static function text(array $measured): string
    {
        $exposition = new Exposition();
        foreach (self::ALL as $name => [$type, $help]) {
            $samples = $measured[$name] ?? [];
            if ($type === 'histogram') {
                $samples = [];
                foreach (self::SUFFIXES as $suffix) {
                    $own = $measured["{$name}{$suffix}"] ?? [];
                    // Classes in their order: the format asks for it.
                    usort($own, static fn (array $a, array $b): int => self::bound($a['labels']) <=> self::bound($b['labels']));
                    array_push($samples, ...array_map(static fn (array $one): array => [...$one, 'suffix' => $suffix], $own));
                }
            }
            $samples === [] || $exposition->add($name, $type, $help, $samples);
        }

        return $exposition->text();
    }

    /** @param array<string, string> $labels */
    private static function bound(array $labels): float
    {
        $bound = $labels['le'] ?? '';

        return $bound === '+Inf' ? INF : (float) $bound;
    }
}

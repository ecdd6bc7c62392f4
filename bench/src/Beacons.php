<?php

declare(strict_types=1);

namespace Bench;

use GuzzleHttp\Client;
use GuzzleHttp\Pool;
use GuzzleHttp\Psr7\Request;
use RuntimeException;

/** Sends beacons to an address of this machine, as fast as they are taken. */
final class Beacons
{
    /** @return float how many beacons of ten events a second were taken, eight at a time */
    public static function throughput(string $url, string $site, string $page, int $beacons): float
    {
        static $run = 0;
        $run++;
        $requests = (static function () use ($url, $site, $page, $beacons, $run) {
            for ($i = 0; $i < $beacons; $i++) {
                $id = getmypid()."-{$run}-{$i}";
                yield new Request('POST', $url, ['Content-Type' => 'text/plain'], (string) json_encode(['pellix' => 1, 'site' => $site, 'sent' => gmdate('Y-m-d\TH:i:s\Z'), 'events' => array_map(static fn (int $n): array => [
                    'id' => "bench-{$id}-{$n}", 'visitor' => "bench-{$id}", 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => 'bench', 'url' => $page, 'props' => ['n' => $n, 'text' => 'some words'],
                ], range(1, 10))]));
            }
        })();
        $taken = 0;
        $begin = hrtime(true);
        (new Pool(new Client(['http_errors' => false]), $requests, ['concurrency' => 8, 'fulfilled' => static function ($answer) use (&$taken): void {
            $taken += (json_decode((string) $answer->getBody(), true)['accepted'] ?? 0) === 10 ? 1 : 0;
        }]))->promise()->wait();
        if ($taken !== $beacons) {
            throw new RuntimeException("Only {$taken} of {$beacons} beacons were taken.");
        }

        return $beacons / ((hrtime(true) - $begin) / 1e9);
    }

    /** The collector against the bare script, in turns, so that whatever else the machine does meets both alike. */
    public static function compare(Report $report, string $origin, string $site, string $page): void
    {
        self::throughput("{$origin}/bare", $site, $page, 100);
        self::throughput("{$origin}/c", $site, $page, 100);
        $bares = $ours = [];
        for ($turn = 0; $turn < 3; $turn++) {
            $bares[] = self::throughput("{$origin}/bare", $site, $page, 400);
            $ours[] = self::throughput("{$origin}/c", $site, $page, 400);
        }
        $ratio = max($ours) / max($bares);
        $report->line('collector, against a bare script', sprintf('%.2f (%.0f beacons/s)', $ratio, max($ours)), 'at least 0.5', $ratio >= 0.5);
    }
}

<?php

declare(strict_types=1);

/*
 * Sends beacons as pages do, until a file appears: what was not acknowledged is sent again, with the same ids. Writes what was
 * acknowledged, a line an event: its id and its name.
 *
 * send.php ADDRESS SITE-KEY NAME BEACONS-A-SECOND ACKNOWLEDGED STOP
 */

[, $address, $site, $name, $rate, $acknowledged, $stop] = $argv;

const LONGEST_SECONDS = 3600;
const MOST_WAITING = 20_000;
const PATIENCE_SECONDS = 120;

$log = fopen($acknowledged, 'w');
$http = curl_init("{$address}/c");
curl_setopt_array($http, [CURLOPT_POST => true, CURLOPT_RETURNTRANSFER => true, CURLOPT_TIMEOUT_MS => 4000, CURLOPT_HTTPHEADER => ['Content-Type: text/plain', 'Origin: https://cluster.test']]);

/** @return array<string, string> id => name of each event of a beacon */
$events = static fn (int $n): array => ["{$name}-{$n}-a" => 'page_view', "{$name}-{$n}-b" => 'click'];

$send = static function (int $n, string $time) use ($http, $site, $name, $events, $log): bool {
    $all = [];
    foreach ($events($n) as $id => $what) {
        $all[] = ['id' => $id, 'visitor' => "{$name}-".$n % 500, 'name' => $what, 'time' => $time, 'url' => 'https://cluster.test/page/'.$n % 20, 'referrer' => '', 'props' => (object) []];
    }
    curl_setopt($http, CURLOPT_POSTFIELDS, (string) json_encode(['pellix' => 1, 'site' => $site, 'sent' => gmdate('Y-m-d\TH:i:s\Z'), 'events' => $all]));
    $answer = json_decode((string) curl_exec($http), true);
    if (curl_getinfo($http, CURLINFO_RESPONSE_CODE) !== 200 || ($answer['accepted'] ?? 0) + ($answer['repeated'] ?? 0) !== count($all)) {
        return false;
    }
    foreach ($events($n) as $id => $what) {
        fwrite($log, "{$id} {$what}\n");
    }

    return true;
};

$waiting = [];
$begun = microtime(true);
$failures = 0;
for ($n = 0; ! file_exists($stop) && microtime(true) - $begun < LONGEST_SECONDS && count($waiting) < MOST_WAITING; $n++) {
    $time = gmdate('Y-m-d\TH:i:s\Z');
    if (! $send($n, $time)) {
        $failures++;
        $waiting[$n] = $time;
    } elseif ($waiting !== []) {
        // One that waits for each that gets through.
        $oldest = array_key_first($waiting);
        if ($send($oldest, $waiting[$oldest])) {
            unset($waiting[$oldest]);
        }
    }
    usleep(max(0, (int) (1e6 * ($begun + ($n + 1) / (float) $rate - microtime(true)))));
}
$until = microtime(true) + PATIENCE_SECONDS;
while ($waiting !== [] && microtime(true) < $until) {
    $oldest = array_key_first($waiting);
    if ($send($oldest, $waiting[$oldest])) {
        unset($waiting[$oldest]);
    } else {
        usleep(500_000);
    }
}
fclose($log);
fwrite(STDOUT, sprintf("%s: %d beacons sent, %d not acknowledged at the first try, %d never\n", $name, $n, $failures, count($waiting)));

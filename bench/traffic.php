<?php

declare(strict_types=1);

/* Sends beacons of three events each, so many a second, until its time is over: php bench/traffic.php ORIGIN BEACONS-A-SECOND SECONDS */

use Bench\LargeSite;
use GuzzleHttp\Client;
use GuzzleHttp\Promise\Utils;

require dirname(__DIR__).'/vendor/autoload.php';

[, $origin, $perSecond, $seconds] = $argv;
$client = new Client(['http_errors' => false, 'timeout' => 10]);
$begin = microtime(true);
$taken = $failed = 0;
$slices = 20;
for ($slice = 0; $slice < $slices * (int) $seconds; $slice++) {
    $promises = [];
    for ($i = 0; $i < (int) $perSecond / $slices; $i++) {
        // One in three comes back.
        $visitor = mt_rand(0, 2) === 0 ? sprintf('live%06d', mt_rand(0, 3000)) : 'live'.bin2hex(random_bytes(8));
        $page = mt_rand(0, 1999);
        $time = gmdate('Y-m-d\TH:i:s\Z');
        $event = static fn (string $name, array $props): array => ['id' => bin2hex(random_bytes(13)), 'visitor' => $visitor, 'time' => $time, 'name' => $name, 'url' => LargeSite::address($page), 'props' => (object) $props];
        $area = $page % 40;
        $promises[] = $client->postAsync("{$origin}/c", ['body' => json_encode(['pellix' => 1, 'site' => LargeSite::KEY, 'sent' => $time, 'events' => [
            $event('page_view', []), $event('exposure', ['experiment' => "scale-{$area}", 'variant' => crc32($visitor) % 2 ? 'b' : 'control', 'bucket' => 1]), $event('click', ['path' => 'html>body>main>a#next.button']),
        ]])]);
    }
    foreach (Utils::settle($promises)->wait() as $one) {
        $one['state'] === 'fulfilled' && $one['value']->getStatusCode() === 200 ? $taken++ : $failed++;
    }
    $ahead = $begin + ($slice + 1) / $slices - microtime(true);
    $ahead > 0 && usleep((int) (1e6 * $ahead));
}
printf("%d %d %.1f\n", $taken, $failed, microtime(true) - $begin);

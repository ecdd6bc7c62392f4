<?php

use GuzzleHttp\Client;
use GuzzleHttp\Pool;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\ResponseInterface;
use Support\Chrome;
use Symfony\Component\Process\Process;

/** Kills a server of this copy with all its children: each leads a process group of its own. */
function killServer(string $data, string $program): void
{
    foreach (glob('/proc/[0-9]*/cmdline') as $file) {
        $command = (string) @file_get_contents($file);
        if (str_contains($command, $program) && str_contains($command, $data)) {
            posix_kill(-(int) basename(dirname($file)), SIGKILL);
        }
    }
}

it('loses nothing that it answered for when the database and the interpreter are killed, and gets the rest afterwards, once', function () {
    $data = getenv('PELLIX_TEST_DATA').'/outage';
    (new Process(['rm', '-rf', $data]))->mustRun();
    $free = static function (): int {
        $socket = stream_socket_server('tcp://127.0.0.1:0');

        return (int) substr(strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
    };
    [$port, $demo] = [$free(), $free()];
    $chrome = new Chrome();
    $process = copyThatMayDie($data, $port, $demo);
    try {
        // A visitor's page sends on its own, through the real runtime, before, during and after the outage: fewer events than the
        // 500 that it keeps at most (runtime/src/send.ts).
        $visitor = $chrome->open();
        $visitor->get("http://larkhollow.localhost:{$demo}/workshops");
        sleep(1);
        $visitor->executeScript('window.n = 0; window.tick = setInterval(() => window.n < 450 ? window.pellix("event", "ticked", { n: window.n++ }) : clearInterval(window.tick), 40);');

        $client = new Client(['base_uri' => "http://localhost:{$port}", 'http_errors' => false, 'timeout' => 20]);
        $answered = [];
        $sent = 0;
        $killed = false;
        $beacons = (function () use (&$sent, $demo) {
            for ($i = 0; $i < 1000; $i++) {
                $sent = $i;
                yield $i => new Request('POST', '/c', ['Content-Type' => 'text/plain'], (string) json_encode(['pellix' => 1, 'site' => 'plx_larkhollowdemo01', 'sent' => gmdate('Y-m-d\TH:i:s\Z'), 'events' => array_map(fn (int $n): array => [
                    'id' => "outage-{$i}-{$n}", 'visitor' => "w{$i}", 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => 'outage', 'url' => "http://larkhollow.localhost:{$demo}/", 'props' => (object) [],
                ], range(1, 20))]));
            }
        })();
        (new Pool($client, $beacons, [
            'concurrency' => 6,
            'fulfilled' => function (ResponseInterface $response, int $i) use (&$answered, &$killed, $data): void {
                $answered[$i] = $response->getStatusCode() === 200 && json_decode((string) $response->getBody(), true)['accepted'] === 20;
                if ($i >= 500 && ! $killed) {
                    $killed = true;
                    killServer($data, 'mariadbd');
                    killServer($data, 'php-fpm');
                }
            },
            'rejected' => fn (Throwable $reason, int $i) => $answered[$i] = false,
        ]))->promise()->wait();
        expect($killed)->toBeTrue()->and(count(array_filter($answered)))->toBeGreaterThan(400)->toBeLessThan(1000);
        $process->stop(60);

        $process = copyThatMayDie($data, $port, $demo);
        preg_match('/^DB_SOCKET=(.+)$/m', (string) file_get_contents("{$data}/.env"), $m);
        $socket = $m[1];
        $db = new PDO("mysql:unix_socket={$socket};dbname=pellix", 'pellix', trim((string) file_get_contents("{$data}/secret-database")));
        $stored = $db->query("select event_id, count(*) from events where name = 'outage' group by event_id")->fetchAll(PDO::FETCH_KEY_PAIR);
        $lost = array_filter(array_keys(array_filter($answered)), fn (int $i): bool => array_filter(range(1, 20), fn (int $n): bool => ! isset($stored["outage-{$i}-{$n}"])) !== []);
        expect($lost)->toBe([])->and(max($stored))->toBe(1);

        // The page is still open; what it could not send it keeps, and sends again: all of it, once.
        $until = time() + 90;
        do {
            usleep(500_000);
            $ticks = $db->query("select count(*), count(distinct json_value(props, '$.n')) from events where name = 'ticked'")->fetch(PDO::FETCH_NUM);
        } while ($ticks[1] < 450 && time() < $until);
        expect(array_map(intval(...), $ticks))->toBe([450, 450]);
    } finally {
        $chrome->quit();
        $process->stop(60);
        (new Process(['rm', '-rf', $data]))->run();
    }
});

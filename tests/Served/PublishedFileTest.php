<?php

use Demo\Library;
use GuzzleHttp\Client;
use GuzzleHttp\Pool;
use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\ResponseInterface;
use Symfony\Component\Process\Process;

it('hands out whole files while others are compiled, each with its ETag, and 304 to whoever has it', function () {
    $address = $this->origin().'/s/'.Library::SITE_KEY.'.js';
    $client = new Client(['http_errors' => false, 'timeout' => 30]);
    $days = (int) $this->scalar('select cookie_days from sites where `key` = ?', Library::SITE_KEY);
    $root = dirname(__DIR__, 2);
    $change = fn (int $to) => $this->db()->prepare('update sites set cookie_days = ? where `key` = ?')->execute([$to, Library::SITE_KEY]);
    // What is published differs each time, and is published again and again meanwhile.
    $copy = ['PELLIX_DATA' => getenv('PELLIX_TEST_DATA')];
    $publish = new Process(['bash', '-c', "for i in 1 2 3 4 5 6 7 8; do php {$root}/artisan pellix:publish; done"], $root, $copy, timeout: 120);
    $bodies = $broken = [];
    $publish->start();
    $requests = static function () use ($address, $change, $days, $publish): Generator {
        for ($i = 0; $i < 500 || ($i < 20_000 && $publish->isRunning()); $i++) {
            $i % 20 === 0 && $change($days + 1 + intdiv($i, 20) % 300);
            yield new Request('GET', $address);
        }
    };
    (new Pool($client, $requests(), ['concurrency' => 8, 'fulfilled' => static function (ResponseInterface $answer) use (&$bodies, &$broken): void {
        $body = (string) $answer->getBody();
        $isWhole = $answer->getStatusCode() === 200 && preg_match('/\Awindow\.pellixSite=(\{"number":(\d+).*\});\n/', $body, $m) === 1 && json_decode($m[1]) !== null && preg_match('~\}\)?\(\);\z~', rtrim($body)) === 1;
        $isWhole ? $bodies[$m[2]][md5($body)] = true : $broken[] = substr($body, 0, 80).' … '.substr($body, -80);
    }, 'rejected' => static function (mixed $why) use (&$broken): void {
        $broken[] = (string) $why;
    }]))->promise()->wait();
    $publish->wait();
    expect($broken)->toBe([])->and($publish->isSuccessful())->toBeTrue()->and(count($bodies))->toBeGreaterThan(1)
        ->and(array_unique(array_map(count(...), $bodies)))->toBe([array_key_first($bodies) => 1]);
    $change($days);
    (new Process(['php', "{$root}/artisan", 'pellix:publish'], $root, $copy))->mustRun();

    $first = $client->get($address);
    expect($first->getHeaderLine('ETag'))->not->toBe('')->and($first->getHeaderLine('Cache-Control'))->toBe('no-cache')
        ->and($client->get($address, ['headers' => ['If-None-Match' => $first->getHeaderLine('ETag')]])->getStatusCode())->toBe(304);
});

<?php

use App\Collector\Buckets;
use App\Fetching\SpecialRanges;
use Demo\Library;

/** What is told of rejected events of the demo's site, kept or not, by reason. */
function rejectedOf(Tests\Support\ServedTestCase $test, string $reason): int
{
    return (int) (fn () => $this->scalar('select (select count(*) from rejected_events where reason = ?) + (select coalesce(sum(n), 0) from unkept_events where reason = ?)', $reason, $reason))->call($test);
}

it('answers in two seconds while the database is frozen, and takes the same afterwards', function () {
    $pid = (int) file_get_contents(dirname((string) getenv('PELLIX_TEST_SOCKET')).'/db.pid');
    $id = uniqid('frozen-');
    posix_kill($pid, SIGSTOP);
    try {
        $begin = microtime(true);
        $answers = [];
        foreach (range(1, 30) as $i) {
            $process = new Symfony\Component\Process\Process(['curl', '-s', '-o', '/dev/null', '-w', '%{http_code} %header{retry-after}', '-d', (string) json_encode(['pellix' => 1, 'site' => Library::SITE_KEY, 'events' => [$this->event("{$id}-{$i}")]]), $this->origin().'/c']);
            $process->start();
            $answers[] = $process;
        }
        $codes = array_map(function ($process): string {
            $process->wait();

            return $process->getOutput();
        }, $answers);
        $took = microtime(true) - $begin;
    } finally {
        posix_kill($pid, SIGCONT);
    }
    expect(array_unique($codes))->toBe(['503 5']);
    // The one time that is promised rather than measured.
    expect($took)->toBeLessThan(3.0);
    foreach (range(1, 30) as $i) {
        expect($this->beacon([$this->event("{$id}-{$i}")])->getStatusCode())->toBe(200);
    }
    expect((int) $this->scalar('select count(*) from events where event_id like ?', "{$id}%"))->toBe(30);
});

it('writes nothing of visitors into its logs, whatever goes wrong', function () {
    $mark = 'logmark'.bin2hex(random_bytes(6));
    $pid = (int) file_get_contents(dirname((string) getenv('PELLIX_TEST_SOCKET')).'/pids/mariadb');
    $client = new GuzzleHttp\Client(['http_errors' => false, 'timeout' => 20]);
    $pixel = $this->origin().'/p.gif?'.http_build_query(['site' => Library::SITE_KEY, 'name' => 'page_view', 'visitor' => $mark, 'url' => $this->demo()."/{$mark}"]);
    foreach ([false, true] as $isFrozen) {
        $isFrozen && posix_kill($pid, SIGSTOP);
        try {
            $this->beacon([$this->event($mark, ['visitor' => $mark, 'url' => $this->demo()."/{$mark}"]), $this->event("{$mark}?", ['name' => "{$mark} {$mark}"])]);
            $this->post("{$mark} is no JSON");
            $this->post(str_repeat($mark, 10_000));
            $client->get($pixel);
            $client->get($this->origin()."/s/plx_{$mark}.js?visitor={$mark}");
        } finally {
            $isFrozen && posix_kill($pid, SIGCONT);
        }
    }
    usleep(500_000);
    foreach ([...glob(getenv('PELLIX_TEST_DATA').'/log/*'), ...glob(getenv('PELLIX_TEST_DATA').'/storage/logs/*')] as $log) {
        expect(str_contains((string) file_get_contents($log), $mark))->toBeFalse($log);
    }
    // That something went wrong is there.
    expect((string) file_get_contents(getenv('PELLIX_TEST_DATA').'/log/php.log'))->toContain('collector: PDOException');
});

it('keeps some of what it rejects and counts all of it', function () {
    $before = rejectedOf($this, 'event.name');
    $kept = (int) $this->scalar('select count(*) from rejected_events');
    for ($i = 0; $i < 40; $i++) {
        $this->beacon(array_map(fn (int $n): array => $this->event("bad-{$i}-{$n}", ['name' => '?']), range(1, 50)));
    }
    expect(rejectedOf($this, 'event.name') - $before)->toBe(2000)->and((int) $this->scalar('select count(*) from rejected_events') - $kept)->toBeLessThan(600);
});

it('counts beacons of sites that nobody has, and those that a browser lost', function () {
    $key = 'plx_'.substr(md5(uniqid()), 0, 16);
    $this->beacon([$this->event('x')], ['site' => $key]);
    $this->beacon([$this->event('x')], ['site' => $key]);
    expect((int) $this->scalar('select beacons from strangers where `key` = ?', $key))->toBe(2)->and($this->pellix(['strangers'])->getOutput())->toContain($key);
    $lost = rejectedOf($this, 'lost-waiting');
    $beacon = [$this->event(uniqid('lost-'))];
    $this->beacon($beacon, ['dropped' => 7]);
    $this->beacon($beacon, ['dropped' => 7]);
    expect(rejectedOf($this, 'lost-waiting') - $lost)->toBe(7);
});

it('lets no browser write ids of others, nor say that it is one', function () {
    $order = 'A-'.uniqid();
    $claimed = 'order-'.hash('xxh128', "order {$order}");
    $answer = json_decode((string) $this->beacon([$this->event($claimed, ['name' => 'order', 'props' => ['order_id' => $order, 'via' => 'server']]), $this->event("server:{$claimed}"), $this->event("pixel:{$claimed}")])->getBody(), true);
    expect($answer['accepted'])->toBe(1)->and(array_column($answer['rejected'], 'reason'))->toBe(['event.id', 'event.id'])
        ->and($this->scalar('select json_value(props, "$.via") from events where event_id = ?', $claimed))->toBeNull();
    (new GuzzleHttp\Client())->get($this->origin().'/p.gif?'.http_build_query(['site' => Library::SITE_KEY, 'name' => 'order', 'order_id' => $order, 'value' => '1e999', 'url' => $this->demo().'/donate']));
    expect($this->scalar('select json_value(props, "$.value") from events where event_id = ?', "pixel:{$claimed}"))->toBe('1e999');
});

it('rejects what browsers would take for another address, and times of no clock', function (array $change, array $beacon, string $reason) {
    $answer = json_decode((string) $this->beacon([$this->event(uniqid('odd-'), array_map(fn (string $one): string => str_replace('DEMO', (string) parse_url($this->demo(), PHP_URL_HOST), $one), $change))], $beacon)->getBody(), true);
    expect(array_column($answer['rejected'], 'reason'))->toBe([$reason]);
})->with([
    [['url' => 'http://evil.example\\@DEMO/'], [], 'event.url'], [['url' => 'http://DEMO\\.evil.example/'], [], 'event.url'], [['url' => 'http://u@DEMO/'], [], 'event.url'], [['url' => "http://DEMO/\t"], [], 'event.url'],
    [['url' => 'http://DEMO/a b'], [], 'event.url'], [['url' => 'javascript://DEMO/%0aalert(1)'], [], 'event.url'], [['url' => '//DEMO/'], [], 'event.url'],
    [['time' => '1900-01-01T00:00:00Z'], ['sent' => '1900-01-01T00:00:00Z'], 'event.time'], [['time' => '2100-01-01T00:00:00Z'], ['sent' => '2100-01-01T00:00:00Z'], 'event.time'],
    [['time' => '9999-12-31T23:59:59Z'], [], 'event.time'], [['time' => '0001-01-01T00:00:00Z'], ['sent' => '9999-12-31T23:59:59Z'], 'event.time'],
]);

it('takes no more at once than there is, and more as time goes by', function () {
    $folder = sys_get_temp_dir().'/'.uniqid('buckets');
    mkdir($folder);
    $buckets = new Buckets($folder);
    expect($buckets->take('a', 8, 10, 10))->toBe(0.0)->and($buckets->take('a', 8, 10, 10))->toBeGreaterThan(0.4)->toBeLessThan(0.7)->and($buckets->take('b', 10, 10, 10))->toBe(0.0);
    file_put_contents("{$folder}/a", sprintf('0 %.6f', microtime(true) - 0.5));
    expect($buckets->take('a', 4, 10, 10))->toBe(0.0);
    file_put_contents("{$folder}/a", 'nonsense');
    expect($buckets->take('a', 4, 10, 10))->toBe(0.0);
});

// IANA IPv4 and IPv6 Special-Purpose Address Registries: an address of each block that scans were pointed at, and public ones.
it('knows every special range of addresses', function () {
    foreach (['0.1.2.3', '10.0.0.1', '100.64.0.1', '127.9.9.9', '169.254.169.254', '172.31.255.255', '192.0.0.8', '192.0.2.1', '192.31.196.1', '192.52.193.1', '192.88.99.1', '192.168.0.1', '192.175.48.1', '198.19.255.255', '198.51.100.1', '203.0.113.1', '224.0.0.1', '255.255.255.255',
        '::', '::1', '::127.0.0.1', '::ffff:10.0.0.1', '64:ff9b::a00:1', '64:ff9b:1::1', '100::1', '2001::1', '2001:db8::1', '2002:a00:1::', '2620:4f:8000::1', '3fff::1', '5f00::1', 'fd00::1', 'fe80::1', 'fec0::1', 'ff02::1', 'nonsense', ''] as $address) {
        expect(SpecialRanges::contain($address))->toBeTrue($address);
    }
    foreach (['1.1.1.1', '11.0.0.1', '100.128.0.1', '172.32.0.1', '192.0.1.1', '192.167.1.1', '198.20.0.1', '223.255.255.255', '2606:4700::1111', '2001:200::1', '2003::1', '2400::1'] as $address) {
        expect(SpecialRanges::contain($address))->toBeFalse($address);
    }
});

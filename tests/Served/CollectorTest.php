<?php

use Demo\Library;

function decoded(Psr\Http\Message\ResponseInterface $response): array
{
    return json_decode((string) $response->getBody(), true) ?? [];
}

it('stores an event durably before it answers, and a repeated one once', function () {
    $id = uniqid('once-');
    $events = [$this->event($id, ['props' => ['experiment' => 'x', 'variant' => 'b', 'note' => 'ž']]), $this->event("{$id}-2"), $this->event($id)];
    $answer = $this->beacon($events);
    expect($answer->getStatusCode())->toBe(200)
        ->and(decoded($answer))->toBe(['accepted' => 2, 'repeated' => 1, 'rejected' => []])
        ->and($answer->getHeaderLine('Access-Control-Allow-Origin'))->toBe('*')
        ->and((int) $this->scalar('select count(*) from events where event_id like ?', "{$id}%"))->toBe(2)
        ->and($this->scalar('select concat(experiment, variant, json_value(props, "$.note")) from events where event_id = ?', $id))->toBe('xbž');

    expect(decoded($this->beacon($events)))->toBe(['accepted' => 0, 'repeated' => 3, 'rejected' => []])
        ->and((int) $this->scalar('select count(*) from events where event_id like ?', "{$id}%"))->toBe(2);
});

it('takes the good events of a beacon, and keeps the bad ones with their reasons', function () {
    $id = uniqid('mixed-');
    $count = 'select (select count(*) from rejected_events) + (select coalesce(sum(n), 0) from unkept_events)';
    $before = (int) $this->scalar($count);
    $answer = $this->beacon([
        $this->event($id), $this->event("{$id}-url", ['url' => 'http://elsewhere.test/']), 7, $this->event("{$id}-time", ['time' => '2020-01-01T00:00:00Z']),
    ]);
    expect($answer->getStatusCode())->toBe(200)
        ->and(decoded($answer)['accepted'])->toBe(1)
        ->and(array_column(decoded($answer)['rejected'], 'reason', 'index'))->toBe([1 => 'event.url', 2 => 'event', 3 => 'event.time'])
        ->and(decoded($answer)['rejected'][0]['id'])->toBe("{$id}-url")
        ->and((int) $this->scalar($count))->toBe($before + 3);
});

it('corrects a visitor\'s clock that is days off', function () {
    $id = uniqid('clock-');
    $this->beacon([$this->event($id, ['time' => '2031-05-05T10:00:00Z'])], ['sent' => '2031-05-05T10:00:02Z']);
    expect((int) $this->scalar('select abs(timestampdiff(second, time, utc_timestamp())) from events where event_id = ?', $id))->toBeLessThan(30)
        ->and((int) $this->scalar('select clock_shift from events where event_id = ?', $id))->toBeLessThan(-86400);
});

it('has an answer for every bad delivery, and keeps a note of it', function (Closure $send, int $status, string $reason) {
    $before = (int) $this->scalar('select coalesce(max(id), 0) from rejected_events');
    $answer = $send->call($this);
    expect($answer->getStatusCode())->toBe($status)->and(decoded($answer)['error'])->toBe($reason)->and(decoded($answer)['message'])->not->toBe('');
    expect($this->scalar('select group_concat(reason) from rejected_events where id > ?', $before))->toBe($reason);
})->with([
    'no JSON' => [fn () => $this->post('{"pellix":1,'), 400, 'bad-json'],
    'nothing' => [fn () => $this->post(''), 400, 'bad-json'],
    'another shape' => [fn () => $this->post('{"events":[]}'), 422, 'bad-shape'],
    'a key of nobody' => [fn () => $this->beacon([$this->event('x')], ['site' => 'plx_0000000000000000']), 404, 'unknown-site'],
    'over 64 KB' => [fn () => $this->beacon([$this->event('x', ['props' => ['x' => str_repeat('x', 70000)]])]), 413, 'too-large'],
    'over 100 events' => [fn () => $this->beacon(array_fill(0, 101, $this->event('x'))), 413, 'too-many-events'],
]);

it('answers a preflight, and refuses other methods', function () {
    $client = new GuzzleHttp\Client(['http_errors' => false]);
    expect($client->request('OPTIONS', $this->origin().'/c')->getStatusCode())->toBe(204)
        ->and($client->get($this->origin().'/c')->getStatusCode())->toBe(405)
        ->and($client->post($this->origin().'/c', ['body' => str_repeat('x', 1_200_000)])->getStatusCode())->toBe(413);
});

it('survives random and malformed bodies: no 500, nothing accepted lost, nothing stored twice', function () {
    mt_srand(20260302);
    $prefix = uniqid('fuzz-');
    $before = (int) $this->scalar('select count(*) from events');
    $accepted = 0;
    $sent = [];
    $values = [null, true, 0, -1, 1.5, 1e308, '', 'x', "\u{0}", 'ž☂🎻', "a\nb", str_repeat('x', 5000), [], [[]], [1, 2], ['a' => ['b' => 1]], '2026-02-30T00:00:00Z', 'http://[::1', '//x', 'javascript:alert(1)'];
    for ($i = 0; $i < 400; $i++) {
        $events = [];
        for ($j = mt_rand(1, 4); $j > 0; $j--) {
            $id = $prefix.mt_rand(1, 300);
            $event = (array) $this->event($id, ['props' => ['n' => $i]]);
            if (mt_rand(0, 2) === 0) {
                $event[array_rand($event)] = $values[array_rand($values)];
            }
            $events[] = $event;
        }
        $body = json_encode(['pellix' => 1, 'site' => Library::SITE_KEY, 'sent' => gmdate('Y-m-d\TH:i:s\Z'), 'events' => $events]);
        if (mt_rand(0, 2) === 0) {
            // Break the text itself: overwrite, cut, or insert bytes.
            for ($k = mt_rand(1, 6); $k > 0; $k--) {
                $body = substr_replace($body, substr(chr(mt_rand(0, 255)).chr(mt_rand(0, 255)), 0, mt_rand(0, 2)), mt_rand(0, strlen($body)), mt_rand(0, 3));
            }
        }
        $answer = $this->post($body);
        expect($answer->getStatusCode())->toBeIn([200, 400, 404, 413, 422], $body);
        $accepted += decoded($answer)['accepted'] ?? 0;
        if ($answer->getStatusCode() === 200) {
            expect(decoded($answer)['accepted'] + decoded($answer)['repeated'] + count(decoded($answer)['rejected']))->toBe(count(json_decode($body, true)['events']));
        }
        $sent[] = $body;
    }
    $stored = (int) $this->scalar('select count(*) from events') - $before;
    expect($accepted)->toBeGreaterThan(100)->and($stored)->toBe($accepted);
    // The same again: nothing new may be stored.
    foreach ($sent as $body) {
        expect(decoded($this->post($body))['accepted'] ?? 0)->toBe(0);
    }
    expect((int) $this->scalar('select count(*) - count(distinct event_id) from events where event_id like ?', "{$prefix}%"))->toBe(0);
});

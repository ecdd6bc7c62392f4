<?php

use GuzzleHttp\Client;
use Psr\Http\Message\ResponseInterface;

/** @param array<string, string> $parameters */
function pixel(string $origin, array $parameters, array $headers = []): ResponseInterface
{
    return (new Client(['http_errors' => false, 'timeout' => 20]))->get("{$origin}/p.gif", ['query' => ['site' => Demo\Library::SITE_KEY, ...$parameters], 'headers' => $headers]);
}

it('takes an event from an image, and answers with one', function () {
    $answer = pixel($this->origin(), ['name' => 'seen', 'visitor' => 'pixelvisitor1', 'colour' => 'blue', 'url' => $this->demo().'/join']);
    expect($answer->getStatusCode())->toBe(200)
        ->and($answer->getHeaderLine('Content-Type'))->toBe('image/gif')
        ->and($answer->getHeaderLine('Cache-Control'))->toBe('no-store')
        ->and((string) $answer->getBody())->toStartWith('GIF89a');
    expect(json_decode($this->scalar('select props from events where visitor = ?', 'pixelvisitor1'), true))->toBe(['colour' => 'blue', 'via' => 'pixel']);
});

it('counts an order once, however often its page is loaded, and whoever else tells of it', function () {
    foreach ([1, 2, 3] as $time) {
        pixel($this->origin(), ['name' => 'order', 'visitor' => 'pixelvisitor2', 'order_id' => 'P-1', 'value' => '24.50', 'currency' => 'EUR', 'url' => $this->demo().'/thanks']);
    }
    expect((int) $this->scalar("select count(*) from events where json_value(props, '$.order_id') = 'P-1'"))->toBe(1)
        ->and(json_decode($this->scalar("select props from events where json_value(props, '$.order_id') = 'P-1'"), true)['value'])->toBe(24.5);
});

it('goes by the page that shows it, and gives a visitor of its own to whoever has none', function () {
    $answer = pixel($this->origin(), ['name' => 'framed', 'visitor' => '{VISITOR}'], ['Referer' => $this->demo().'/donate']);
    expect($answer->getStatusCode())->toBe(200);
    $row = $this->db()->query("select visitor, url from events where name = 'framed'")->fetch();
    expect($row['url'])->toBe($this->demo().'/donate')->and($row['visitor'])->toStartWith('pixel-');
});

it('has an answer for everything, never a 500, and always an image', function (array $parameters, int $status) {
    $answer = pixel($this->origin(), $parameters);
    expect($answer->getStatusCode())->toBe($status)->and((string) $answer->getBody())->toStartWith('GIF89a');
})->with([
    'no page at all' => [['name' => 'x'], 200],
    'another host' => [['name' => 'x', 'url' => 'https://elsewhere.test/'], 200],
    'no such site' => [['site' => 'plx_nobodyhasthiskey', 'name' => 'x'], 404],
    'no site key' => [['site' => 'x'], 422],
    'a name that is none' => [['name' => '<b>', 'url' => 'http://larkhollow.localhost/'], 200],
    'lists for texts' => [['name' => ['a'], 'visitor' => ['b'], 'url' => ['c'], 'order_id' => ['d']], 200],
    'bytes that are no text' => [['name' => 'x', 'note' => "\xff\xfe", 'url' => 'http://larkhollow.localhost/'], 200],
]);

it('keeps what it rejects, with the reason', function () {
    // Of what is rejected some is kept: where others were rejected in plenty, the next chance comes in half a second.
    for ($i = 0; $i < 20 && $this->scalar("select 1 from rejected_events where sample like '%elsewhere.test/lost%'") === false; $i++) {
        pixel($this->origin(), ['name' => 'lost', 'url' => 'https://elsewhere.test/lost']);
        usleep(300_000);
    }
    expect($this->scalar("select reason from rejected_events where sample like '%elsewhere.test/lost%'"))->toBe('event.url');
});

<?php

use Eris\Generator;
use Pellix\Core\Events\Beacon;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Events\EventReader;
use Pellix\Core\Events\InvalidBeacon;
use Pellix\Core\Events\RejectedEvent;

const RECEIVED = '2026-03-02T12:00:00Z';

/** @param array<string, mixed> $change */
function rawEvent(array $change = []): array
{
    return [...[
        'id' => 'e1', 'visitor' => 'v1', 'time' => '2026-03-02T11:59:58.120Z', 'name' => 'page_view', 'url' => 'http://shop.test/join?x=1',
        'referrer' => '', 'props' => [],
    ], ...$change];
}

function readEvent(mixed $event, ?string $sent = RECEIVED)
{
    $clock = ClockShift::between($sent === null ? null : new DateTimeImmutable($sent), new DateTimeImmutable(RECEIVED));

    return (new EventReader(['shop.test', 'desk.shop.test'], $clock))->read($event);
}

it('reads an event', function () {
    $event = readEvent(rawEvent(['name' => 'exposure', 'props' => ['experiment' => 'x-1', 'variant' => 'b', 'bucket' => 7], 'user' => 'u 9', 'referrer' => 'http://a.test/']));
    expect($event->id)->toBe('e1')
        ->and($event->time->format('c v'))->toBe('2026-03-02T11:59:58+00:00 120')
        ->and($event->clockShift)->toBe(0)
        ->and($event->experiment())->toBe('x-1')
        ->and($event->variant())->toBe('b')
        ->and($event->user)->toBe('u 9')
        ->and($event->referrer)->toBe('http://a.test/');
});

it('rejects an event for a reason', function (mixed $event, string $reason) {
    try {
        readEvent($event);
        $got = 'accepted';
    } catch (RejectedEvent $e) {
        $got = $e->reason();
        expect($e->getMessage())->not->toBe('');
    }
    expect($got)->toBe($reason);
})->with([
    'no id' => [rawEvent(['id' => null]), 'event.id'],
    'an id with a space' => [rawEvent(['id' => 'a b']), 'event.id'],
    'an id of 65' => [rawEvent(['id' => str_repeat('x', 65)]), 'event.id'],
    'an id that is a number' => [rawEvent(['id' => 7]), 'event.id'],
    'no visitor' => [rawEvent(['visitor' => '']), 'event.visitor'],
    'no time' => [rawEvent(['time' => null]), 'event.time'],
    'a day that does not exist' => [rawEvent(['time' => '2026-02-30T12:00:00Z']), 'event.time'],
    'a time without a zone' => [rawEvent(['time' => '2026-03-02T11:59:58']), 'event.time'],
    'a time ahead' => [rawEvent(['time' => '2026-03-02T12:06:00Z']), 'event.time'],
    'a time eight days ago' => [rawEvent(['time' => '2026-02-22T11:00:00Z']), 'event.time'],
    'no name' => [rawEvent(['name' => '']), 'event.name'],
    'a name with a space' => [rawEvent(['name' => 'page view']), 'event.name'],
    'a foreign host' => [rawEvent(['url' => 'http://copy.test/join']), 'event.url'],
    'a host that only begins like one' => [rawEvent(['url' => 'http://shop.test.evil.test/']), 'event.url'],
    'user information that looks like a host' => [rawEvent(['url' => 'http://shop.test@evil.test/']), 'event.url'],
    'no web address' => [rawEvent(['url' => 'file:///etc/passwd']), 'event.url'],
    'an address too long' => [rawEvent(['url' => 'http://shop.test/'.str_repeat('x', 2000)]), 'event.url'],
    'properties in a list' => [rawEvent(['props' => [1, 2]]), 'event.props'],
    'properties that are a text' => [rawEvent(['props' => 'x']), 'event.props'],
    'an infinite property' => [rawEvent(['props' => ['x' => INF]]), 'event.props'],
    'too many properties' => [rawEvent(['props' => array_fill_keys(range('a', 'z'), 1) + array_fill_keys(range('A', 'Z'), 1)]), 'event.props'],
    'properties too large' => [rawEvent(['props' => ['x' => str_repeat('x', 9000)]]), 'event.props'],
    'a list' => [[1, 2, 3], 'event'],
    'a number' => [7, 'event'],
]);

it('corrects a clock that is off by the difference', function () {
    $event = readEvent(rawEvent(['time' => '2026-02-27T11:59:50Z']), '2026-02-27T12:00:00Z');
    expect($event->time->format('c'))->toBe('2026-03-02T11:59:50+00:00')->and($event->clockShift)->toBe(3 * 86400);
    $ahead = readEvent(rawEvent(['time' => '2031-01-01T00:00:00Z']), '2031-01-01T00:00:05Z');
    expect($ahead->time->format('c'))->toBe('2026-03-02T11:59:55+00:00');
});

it('leaves a clock alone that is off by less than the network may be', function () {
    expect(readEvent(rawEvent(['time' => '2026-03-02T11:56:00Z']), '2026-03-02T11:56:01Z')->clockShift)->toBe(0);
});

it('keeps no experiment key that could be none', function () {
    expect(readEvent(rawEvent(['props' => ['experiment' => 'Not A Key', 'variant' => ['x']]]))->experiment())->toBeNull()
        ->and(readEvent(rawEvent(['props' => ['variant' => ['x']]]))->variant())->toBeNull();
});

it('refuses a beacon whole', function (string $body, string $reason, int $status) {
    try {
        Beacon::read($body);
        $got = ['accepted', 200];
    } catch (InvalidBeacon $e) {
        $got = [$e->reason, $e->status];
    }
    expect($got)->toBe([$reason, $status]);
})->with([
    ['', 'bad-json', 400],
    ['{"pellix":1', 'bad-json', 400],
    ["{\"pellix\":1,\"x\":\"\xff\"}", 'bad-json', 400],
    ['{"x":"\ud800"}', 'bad-json', 400],
    [str_repeat('[', 100), 'bad-json', 400],
    ['null', 'bad-shape', 422],
    ['[]', 'bad-shape', 422],
    ['{"pellix":2}', 'bad-shape', 422],
    ['{"pellix":1,"site":"plx_short","events":[{}]}', 'bad-shape', 422],
    ['{"pellix":1,"site":"plx_aaaaaaaaaaaaaaaa","events":{}}', 'bad-shape', 422],
    ['{"pellix":1,"site":"plx_aaaaaaaaaaaaaaaa","events":[]}', 'bad-shape', 422],
    ['{"pellix":1,"site":"plx_aaaaaaaaaaaaaaaa","sent":"noon","events":[{}]}', 'bad-shape', 422],
    ['{"pellix":1,"site":"plx_aaaaaaaaaaaaaaaa","events":['.implode(',', array_fill(0, 101, '{}')).']}', 'too-many-events', 413],
    [str_repeat(' ', 65537), 'too-large', 413],
]);

it('never fails but by refusing', function () {
    $this->limitTo(400)->forAll(Generator\string())->then(function (string $text) {
        expect(fn () => Beacon::read($text))->toThrow(InvalidBeacon::class);
    });
});

<?php

use Pellix\Core\Formats\WallTime;

it('takes a time of the clock as RFC 5545 says, also where the clock jumps', function (string $text, string $zone, ?string $moment, string $note) {
    $read = WallTime::read($text, new DateTimeZone($zone));
    expect($read?->moment->format('Y-m-d\TH:i:s\Z'))->toBe($moment);
    expect($read?->note ?? '')->toContain($note)->and($note === '' && $read !== null ? $read->note : null)->toBeNull();
})->with([
    // The two examples of RFC 5545, 3.3.5 (form 3).
    ['2007-11-04T01:30', 'America/New_York', '2007-11-04T05:30:00Z', 'comes twice'],
    ['2007-03-11T02:30', 'America/New_York', '2007-03-11T07:30:00Z', 'taken as 03:30'],
    ['2026-03-29T02:30', 'Europe/Berlin', '2026-03-29T01:30:00Z', 'does not exist'],
    ['2026-10-25T02:30:00', 'Europe/Berlin', '2026-10-25T00:30:00Z', 'The first of the two'],
    ['2026-10-25T03:00', 'Europe/Berlin', '2026-10-25T02:00:00Z', ''],
    ['2026-06-01T10:00:05', 'Asia/Kathmandu', '2026-06-01T04:15:05Z', ''],
    ['2026-02-30T10:00', 'UTC', null, ''], ['2026-03-01', 'UTC', null, ''], ['2026-03-01T24:00', 'UTC', null, ''], ['tomorrow', 'UTC', null, ''],
]);

<?php

use Pellix\Core\Notices\HttpSignature;
use Pellix\Core\Notices\QuietHours;
use Pellix\Core\Notices\Retries;
use Pellix\Core\Notices\Week;
use Pellix\Core\Notices\Wish;
use Pellix\Core\Wiring\Findings\Severity;

it('signs as the example of RFC 9421, B.2.5', function () {
    // The shared secret of B.1.5, and the request of B.2.
    $secret = base64_decode('uzvJfB4u3N0Jy4T7NZ75MDVcr8zSTInedJtkgcu46YW4XByzNJjxBdtjUkdJPBtbmHhIDi6pcl8jsasjlTMtDQ==', true);
    $signed = ['date' => 'Tue, 20 Apr 2021 02:07:55 GMT', '@authority' => 'example.com', 'content-type' => 'application/json'];
    expect(HttpSignature::of($signed, ['created' => 1618884473, 'keyid' => 'test-shared-secret'], $secret, 'sig-b25'))->toBe([
        'Signature-Input' => 'sig-b25=("date" "@authority" "content-type");created=1618884473;keyid="test-shared-secret"',
        'Signature' => 'sig-b25=:pxcQw6G3AjtMBQjwo8XzkZf/bws5LelbaMk5rGIGtE8=:',
    ]);
    // Whatever is changed, and whatever is said of it, changes the signature.
    $plain = HttpSignature::of($signed, ['created' => 1], 'secret')['Signature'];
    expect(HttpSignature::of([...$signed, '@authority' => 'example.org'], ['created' => 1], 'secret')['Signature'])->not->toBe($plain)
        ->and(HttpSignature::of($signed, ['created' => 2], 'secret')['Signature'])->not->toBe($plain)
        ->and(HttpSignature::of($signed, ['created' => 1], 'Secret')['Signature'])->not->toBe($plain)
        // A quotation mark within a parameter ends nothing (RFC 9651, 4.1.6).
        ->and(HttpSignature::of([], ['keyid' => 'a"b\\c'], 's')['Signature-Input'])->toBe('pellix=();keyid="a\\"b\\\\c"');
});

it('states the digest as the examples of RFC 9530, appendix D', function () {
    expect(HttpSignature::digest("{\"hello\": \"world\"}\n"))->toBe('sha-256=:RK/0qy18MlBSVnWgjwz6lZEWjP/lF5HF9bvEF8FabDg=:')
        ->and(HttpSignature::digest('{"hello": "world"}'))->toBe('sha-256=:X48E9qOokqqrvdts8nOJRJN3OWDUoyWxBf7kbu9DBPE=:');
});

it('is quiet as long as somebody wants it, and tells at the end', function (string $from, string $to, string $now, ?string $until) {
    $zone = new DateTimeZone('Europe/Lisbon');
    $end = QuietHours::of($from, $to)->until(new DateTimeImmutable($now, $zone));
    expect($end?->format('Y-m-d H:i'))->toBe($until);
})->with([
    'by day' => ['12:00', '13:00', '2026-03-10 12:00', '2026-03-10 13:00'],
    'the last minute' => ['12:00', '13:00', '2026-03-10 12:59:59', '2026-03-10 13:00'],
    'over' => ['12:00', '13:00', '2026-03-10 13:00', null],
    'not begun' => ['12:00', '13:00', '2026-03-10 11:59', null],
    'before midnight' => ['22:00', '07:00', '2026-03-10 23:30', '2026-03-11 07:00'],
    'after midnight' => ['22:00', '07:00', '2026-03-11 03:00', '2026-03-11 07:00'],
    'the day between' => ['22:00', '07:00', '2026-03-11 07:00', null],
    'until midnight' => ['22:00', '00:00', '2026-03-10 22:30', '2026-03-11 00:00'],
    'the night that the clock jumps' => ['22:00', '07:00', '2026-03-28 23:00', '2026-03-29 07:00'],
    'an end that the clock jumps over' => ['22:00', '01:30', '2026-03-29 00:30', '2026-03-29 02:30'],
    'the night that the clock is put back' => ['22:00', '07:00', '2026-10-24 23:00', '2026-10-25 07:00'],
]);

it('refuses quiet hours that are none', function (string $from, string $to, string $field) {
    expect(complaint(fn () => QuietHours::of($from, $to)))->toStartWith("{$field}: ");
})->with([['22:00', '22:00', 'quiet_to'], ['24:00', '07:00', 'quiet_from'], ['22:00', '7:00', 'quiet_to'], ["22:00\n", '07:00', 'quiet_from'], ['', '07:00', 'quiet_from']]);

it('tries again later each time, for a day, and then no more', function () {
    $waits = [];
    for ($failed = 1; ($wait = Retries::after($failed)) !== null; $failed++) {
        $waits[] = $wait;
    }
    $sorted = $waits;
    sort($sorted);
    expect($waits)->toBe($sorted)->and(count($waits) + 1)->toBe(Retries::most())->and(array_sum($waits))->toBeGreaterThan(20 * 3600)->toBeLessThan(26 * 3600);
});

it('tells of a week from Monday to Monday, once it is over', function (string $now, string $name, string $from, string $to) {
    $week = Week::toTell(new DateTimeImmutable($now, new DateTimeZone('Europe/Lisbon')));
    expect([$week->name(), $week->from->format('c'), $week->to->format('c')])->toBe([$name, $from, $to]);
})->with([
    'a Friday' => ['2026-11-27 10:00', '2026-W47', '2026-11-16T00:00:00+00:00', '2026-11-23T00:00:00+00:00'],
    'Monday, before anybody is there' => ['2026-11-23 07:59', '2026-W46', '2026-11-09T00:00:00+00:00', '2026-11-16T00:00:00+00:00'],
    'Monday' => ['2026-11-23 08:00', '2026-W47', '2026-11-16T00:00:00+00:00', '2026-11-23T00:00:00+00:00'],
    'Sunday night' => ['2026-11-29 23:59', '2026-W47', '2026-11-16T00:00:00+00:00', '2026-11-23T00:00:00+00:00'],
    'a week with a change of the clock' => ['2026-03-31 12:00', '2026-W13', '2026-03-23T00:00:00+00:00', '2026-03-30T00:00:00+01:00'],
    'the first week of a year' => ['2027-01-12 12:00', '2027-W01', '2027-01-04T00:00:00+00:00', '2027-01-11T00:00:00+00:00'],
    'the last, which ends in the next' => ['2027-01-05 12:00', '2026-W53', '2026-12-28T00:00:00+00:00', '2027-01-04T00:00:00+00:00'],
]);

it('tells as much as somebody wishes', function () {
    $told = static fn (Wish $wish): array => array_map($wish->includes(...), Severity::cases());
    expect($told(Wish::Nothing))->toBe([false, false, false])->and($told(Wish::Blockers))->toBe([true, false, false])->and($told(Wish::Everything))->toBe([true, true, true]);
});

<?php

use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\SessionLife;
use Pellix\Core\Sites\KeyOverlap;

it('lets each right do what those before it may', function () {
    foreach (Right::cases() as $i => $right) {
        foreach (Right::cases() as $j => $other) {
            expect($right->includes($other))->toBe($j <= $i)->and($right->within($other))->toBe(Right::cases()[min($i, $j)]);
        }
    }
});

it('lets nobody publish alone where two people are wanted', function () {
    expect(array_map(static fn (Right $right): bool => $right->publishesAlone(false), Right::cases()))->toBe([false, false, true, true])
        ->and(array_map(static fn (Right $right): bool => $right->publishesAlone(true), Right::cases()))->toBe([false, false, false, false]);
});

it('ends a sign-in after its time, and where nobody has given a sign', function (string $began, string $noted, string $sign, bool $holds) {
    // Two weeks and an hour.
    expect((new SessionLife(336, 60))->holds(new DateTimeImmutable($began), new DateTimeImmutable($noted), new DateTimeImmutable($sign), new DateTimeImmutable('2026-03-15 12:00:00')))->toBe($holds);
})->with([
    'a moment ago' => ['2026-03-15 11:00:00', '2026-03-15 11:59:59', '2026-03-15 12:00:00', true],
    'as long as it may, and a second less' => ['2026-03-01 12:00:01', '2026-03-15 11:59:59', '2026-03-15 12:00:00', true],
    'as long as it may' => ['2026-03-01 12:00:00', '2026-03-15 11:59:59', '2026-03-15 12:00:00', false],
    'nobody for an hour less a second' => ['2026-03-15 09:00:00', '2026-03-15 11:00:01', '2026-03-15 11:00:01', true],
    'nobody for an hour' => ['2026-03-15 09:00:00', '2026-03-15 11:00:00', '2026-03-15 11:00:00', false],
    'a sign after more than an hour without one' => ['2026-03-15 09:00:00', '2026-03-15 10:59:00', '2026-03-15 12:00:00', false],
    'a view that refreshes itself, and its person was last there before what was noted' => ['2026-03-15 09:00:00', '2026-03-15 11:30:00', '2026-03-15 10:00:00', true],
]);

it('has room for five earlier keys', function () {
    expect(KeyOverlap::hasRoom(4))->toBeTrue()->and(KeyOverlap::hasRoom(5))->toBeFalse();
});

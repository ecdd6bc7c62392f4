<?php

use Pellix\Core\Experiments\DueAction;
use Pellix\Core\Experiments\Stage;

/** @return array{string, string}|null what is due at 12:00 UTC on 29 March 2026, where Lisbon's clocks show 13:00 since that night */
function dueAt(Stage $stage, ?string $start, ?string $end, ?int $visitors = null, int $entered = 0): ?array
{
    $moment = static fn (?string $text): ?DateTimeImmutable => $text === null ? null : new DateTimeImmutable("2026-03-{$text}Z");
    $due = DueAction::of($stage, $moment($start), $moment($end), $visitors, $entered, new DateTimeImmutable('2026-03-29T12:00:00Z'), new DateTimeZone('Europe/Lisbon'));

    return $due === null ? null : [$due->action, $due->words];
}

it('starts what is scheduled at its time, or somewhat later, and not a day after it', function (string $start, ?string $end, ?array $due) {
    expect(dueAt(Stage::Scheduled, $start, $end))->toBe($due);
})->with([
    'to come' => ['29T12:00:01', null, null],
    'now' => ['29T12:00:00', null, ['start', 'At its time.']],
    'two minutes ago' => ['29T11:58:00', null, ['start', 'At its time.']],
    'more than that' => ['29T11:57:59', null, ['start', 'Late: Pellix did not run at its time, 29 Mar 2026 12:57.']],
    'a day ago' => ['28T12:00:00', null, ['start', 'Late: Pellix did not run at its time, 28 Mar 2026 12:00.']],
    'more than a day ago' => ['28T11:59:59', null, ['miss', 'Its time went by while Pellix did not run: it was to start 28 Mar 2026 11:59.']],
    'its end is over, too' => ['29T10:00:00', '29T12:00:00', ['miss', 'Its time went by while Pellix did not run: it was to start 29 Mar 2026 11:00.']],
    'its end is to come' => ['29T12:00:00', '29T12:00:01', ['start', 'At its time.']],
]);

it('ends what runs or is paused at its time, or with its visitors, and nothing else', function () {
    foreach ([Stage::Running, Stage::Paused] as $stage) {
        expect(dueAt($stage, '01T00:00:00', '29T12:00:00'))->toBe(['end', 'At its time.'])
            ->and(dueAt($stage, '01T00:00:00', '29T09:00:00'))->toBe(['end', 'Late: Pellix did not run at its time, 29 Mar 2026 10:00.'])
            ->and(dueAt($stage, '01T00:00:00', '29T12:00:01'))->toBeNull()
            ->and(dueAt($stage, null, null, 500, 499))->toBeNull()
            ->and(dueAt($stage, null, '30T00:00:00', 500, 501))->toBe(['end', 'With 501 visitors: 500 were planned.'])
            ->and(dueAt($stage, null, null))->toBeNull();
    }
    foreach ([Stage::Draft, Stage::Ended, Stage::Archived] as $stage) {
        expect(dueAt($stage, '01T00:00:00', '02T00:00:00', 1, 9))->toBeNull();
    }
    expect(dueAt(Stage::Scheduled, null, '02T00:00:00', 1, 9))->toBeNull();
});

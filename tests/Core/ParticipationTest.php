<?php

declare(strict_types=1);

use Pellix\Core\Counting\Figures;
use Pellix\Core\Counting\GoalHours;
use Pellix\Core\Counting\Participation;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Goals\Goal;

const BEGAN = '2026-03-02T00:00:00Z';

function declaredExperiment(array $change = []): Experiment
{
    return Experiment::read([
        'pellix' => 1, 'key' => 'steps', 'salt' => 's', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'],
        'variants' => [['key' => 'control', 'weight' => 1, 'control' => true], ['key' => 'short', 'weight' => 1]],
        'goals' => [['key' => 'done', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']]],
        ...$change,
    ]);
}

/** @param list<array{string, int, string, 3?: array<string, mixed>}> $events name, minute, path, properties */
function logOf(array $events): VisitorLog
{
    return new VisitorLog(array_map(
        static fn (int $i, array $event): LogEvent => new LogEvent("e{$i}", 'v', (new DateTimeImmutable(BEGAN))->modify("{$event[1]} minutes"), $event[0], "https://a.test{$event[2]}", $event[3] ?? []),
        array_keys($events),
        $events,
    ));
}

function exposed(int $minute, string $variant, string $experiment = 'steps'): array
{
    return ['exposure', $minute, '/loan', ['experiment' => $experiment, 'variant' => $variant]];
}

function participation(array $events, array $change = [], ?Periods $ran = null): ?Participation
{
    return Participation::of(declaredExperiment($change), $ran ?? new Periods([[new DateTimeImmutable(BEGAN), null]]), logOf($events));
}

it('makes whoever views a page of the experiment eligible, and nobody else', function () {
    expect(participation([['page_view', 1, '/loan'], ['page_view', 2, '/loan'], ['page_view', 3, '/other']])->views)->toBe(2)
        ->and(participation([['page_view', 1, '/other'], ['click', 2, '/loan']]))->toBeNull()
        // Before it ran, and while it was paused.
        ->and(participation([['page_view', -1, '/loan']]))->toBeNull()
        ->and(participation([['page_view', 30, '/loan']], [], new Periods([[new DateTimeImmutable(BEGAN), new DateTimeImmutable('2026-03-02T00:20:00Z')], [new DateTimeImmutable('2026-03-02T00:40:00Z'), null]])))->toBeNull();
});

it('takes an exposure to a declared variant of this experiment, and to no other', function () {
    $did = participation([exposed(5, 'short'), exposed(1, 'short', 'another'), exposed(2, 'stranger'), exposed(3, 'control', 'another')]);
    expect($did->exposures)->toBe(1)->and($did->counts())->toBe('short')->and($did->first->format('H:i'))->toBe('00:05')
        ->and(participation([exposed(1, 'stranger')]))->toBeNull()
        ->and(participation([['exposure', 1, '/loan', ['experiment' => 'steps']]]))->toBeNull()
        ->and(participation([['exposure', 1, '/loan', ['experiment' => 'steps', 'variant' => ['short']]]]))->toBeNull();
});

it('counts whoever met two variants for none, whichever came first', function () {
    $did = participation([exposed(1, 'short'), exposed(2, 'control'), exposed(3, 'short')]);
    expect($did->crossed)->toBeTrue()->and($did->variant)->toBe('short')->and($did->counts())->toBeNull()->and($did->exposures)->toBe(3);
    $figures = Figures::entry($did);
    expect($figures)->toMatchArray(['entered' => 1, 'crossed' => 1, 'exposures' => 3])->and(array_filter(array_keys($figures), static fn (string $name): bool => str_starts_with($name, 'variant.')))->toBe([]);
});

it('puts a unit into the epoch of its first exposure, whatever came later', function () {
    $epochs = ['epochs' => [['from' => BEGAN, 'share' => 1, 'weights' => ['control' => 1, 'short' => 1]], ['from' => '2026-03-02T00:10:00Z', 'share' => 1, 'weights' => ['control' => 1, 'short' => 3]]]];
    expect(participation([exposed(5, 'short'), exposed(15, 'short')], $epochs)->epoch)->toBe(0)
        ->and(participation([exposed(10, 'short')], $epochs)->epoch)->toBe(1)
        ->and(Figures::entry(participation([exposed(12, 'short')], $epochs)))->toHaveKey('variant.short.epoch.1.units', 1);
});

it('counts hits from the first exposure on, as often as the goal says', function (string $count, int $hits) {
    $goal = Goal::read(['key' => 'done', 'kind' => 'page', 'count' => $count, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']]);
    $ran = new Periods([[new DateTimeImmutable(BEGAN), null]]);
    // One before the exposure, two in the same session after it, one in a session of its own.
    $log = logOf([['page_view', 1, '/done'], exposed(2, 'short'), ['page_view', 3, '/done'], ['page_view', 4, '/done'], ['page_view', 200, '/done']]);
    $did = Participation::of(declaredExperiment(), $ran, $log);
    expect(Figures::reached('g', $goal, $log->hits($goal), $ran, $did))->toBe(['goal.g.variant.short.hits' => $hits, 'goal.g.variant.short.units' => 1, 'goal.g.variant.short.epoch.0.units' => 1])
        ->and(Figures::everyone('g', $goal, $log->hits($goal), $ran)['goal.g.everyone.visitors'])->toBe(1)
        // Who came before the exposure only has not reached it.
        ->and(Figures::reached('g', $goal, array_slice($log->hits($goal), 0, 1), $ran, $did))->toBe([]);
})->with([['every', 3], ['session', 2], ['visitor', 1]]);

it('takes what a unit did off again to the last figure', function () {
    $did = participation([['page_view', 0, '/loan'], exposed(1, 'short'), ['change_applied', 2, '/loan', ['experiment' => 'steps', 'variant' => 'short']]]);
    $sum = [];
    Figures::add($sum, Figures::entry($did));
    expect(array_filter($sum))->toMatchArray(['views' => 1, 'eligible' => 1, 'variant.short.applied' => 1, 'variant.short.applied.units' => 1, 'variant.short.units' => 1]);
    Figures::add($sum, Figures::entry($did), -1);
    expect(array_filter($sum))->toBe([]);
});

it('spreads hits over hours so that any stretch of last hours adds up', function () {
    $goal = Goal::read(['key' => 'done', 'kind' => 'page', 'count' => 'every', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']]);
    $hits = logOf([['page_view', 5, '/done'], ['page_view', 10, '/done'], ['page_view', 70, '/done'], ['page_view', 400, '/done']])->hits($goal);
    $hours = GoalHours::of($hits);
    expect($hours)->toBe([
        '2026-03-02 00:00:00' => ['hits' => 2, 'sessions' => 1, 'visitors' => 0],
        '2026-03-02 01:00:00' => ['hits' => 1, 'sessions' => 1, 'visitors' => 0],
        '2026-03-02 06:00:00' => ['hits' => 1, 'sessions' => 1, 'visitors' => 1],
    ]);
    foreach (['2026-03-02 00:00:00' => [4, 3, 1], '2026-03-02 01:00:00' => [2, 2, 1], '2026-03-02 02:00:00' => [1, 1, 1], '2026-03-02 07:00:00' => [0, 0, 0]] as $from => $sums) {
        $later = array_filter($hours, static fn (string $hour): bool => $hour >= $from, ARRAY_FILTER_USE_KEY);
        expect([array_sum(array_column($later, 'hits')), array_sum(array_column($later, 'sessions')), array_sum(array_column($later, 'visitors'))])->toBe($sums, $from);
    }
});

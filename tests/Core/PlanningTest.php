<?php

use Pellix\Core\Planning\InvalidAssumption;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Planning\Traffic;

/**
 * @param array<string, mixed> $plan
 *
 * @return array<string, mixed>
 */
function outcome(array $plan): array
{
    return Outcome::of(Plan::read($plan))->toArray();
}

it('plans whole weeks, with share and weights considered', function () {
    expect(outcome(['baseline' => 0.05, 'lift' => 0.1, 'daily' => 2000]))->toMatchArray(['per_variant' => [31234, 31234], 'days' => 32, 'weeks' => 5])
        ->and(outcome(['baseline' => 0.05, 'lift' => 0.1, 'daily' => 2000])['words'])->toContain('About 5 weeks: ')->toContain('from 5.0')->toContain('to 5.5')
        ->and(outcome(['baseline' => 0.05, 'lift' => 0.1, 'daily' => 2000, 'share' => 0.5]))->toMatchArray(['days' => 63, 'weeks' => 9])
        ->and(outcome(['baseline' => 0.05, 'lift' => 0.1, 'daily' => 2000, 'weights' => [90, 10]])['weeks'])->toBeGreaterThan(9);
});

it('counts who comes again once: later weeks bring what the last one measured brought', function () {
    $traffic = Traffic::measured([1000, 1700, 2200, 2500]);
    expect($traffic->visitors(1))->toBe(1000.0)->and($traffic->visitors(1.5))->toBe(1350.0)->and($traffic->visitors(6))->toBe(3100.0)
        ->and($traffic->days(1000))->toBe(7)->and($traffic->days(3100))->toBe(42)->and(Traffic::measured([500, 500])->days(501))->toBeNull();
    $linear = outcome(['baseline' => 0.1, 'lift' => 0.2, 'within' => [1000, 2000, 3000, 4000]]);
    $measured = outcome(['baseline' => 0.1, 'lift' => 0.2, 'within' => [1000, 1700, 2200, 2500]]);
    expect($measured['weeks'])->toBeGreaterThan($linear['weeks']);
});

it('warns, with a reason', function (array $plan, array $codes) {
    expect(array_column(outcome($plan)['warnings'], 'code'))->toBe($codes);
})->with([
    'nothing' => [['baseline' => 0.05, 'lift' => 0.2, 'daily' => 2000], []],
    'too quiet' => [['baseline' => 0.01, 'lift' => 0.1, 'daily' => 40], ['too-quiet']],
    'long, but a doubling would be found' => [['baseline' => 0.05, 'lift' => 0.05, 'daily' => 400], ['long-run']],
    'three days' => [['baseline' => 0.3, 'lift' => 0.3, 'daily' => 2000, 'days' => 3], ['three-days', 'under-a-week']],
    'six days' => [['baseline' => 0.3, 'lift' => 0.3, 'daily' => 2000, 'days' => 6], ['under-a-week']],
    'ten days' => [['baseline' => 0.3, 'lift' => 0.3, 'daily' => 2000, 'days' => 10], ['not-whole-weeks']],
    'too short' => [['baseline' => 0.05, 'lift' => 0.1, 'daily' => 2000, 'days' => 14], ['too-short']],
    'many variants' => [['baseline' => 0.05, 'lift' => 0.2, 'daily' => 2000, 'weights' => [1, 1, 1, 1, 1]], ['many-variants']],
    'rare' => [['baseline' => 0.002, 'lift' => 9, 'daily' => 2000], ['rare-goal']],
    'one side' => [['baseline' => 0.05, 'lift' => 0.2, 'daily' => 2000, 'sides' => 1], ['one-side']],
]);

it('works out rare goals exactly, beside the approximation', function () {
    $plan = outcome(['baseline' => 0.01, 'points' => 0.04, 'daily' => 100]);
    expect($plan)->toMatchArray(['per_variant' => [285, 285], 'exact' => ['per_variant' => [302, 302], 'total' => 604, 'test' => 'fisher'], 'days' => 7])
        ->and(outcome(['baseline' => 0.05, 'points' => 0.04])['exact'])->toBeNull();
});

it('plans several variants at the level of Bonferroni, and says so', function () {
    $three = outcome(['baseline' => 0.05, 'lift' => 0.2, 'weights' => [1, 1, 1]]);
    expect($three['alpha_each'])->toBe(0.025)->and(implode(' ', $three['assumptions']))->toContain('Holm')->toContain('Bonferroni')
        ->and($three['per_variant'][0])->toBe(outcome(['baseline' => 0.05, 'lift' => 0.2, 'alpha' => 0.025])['per_variant'][0])
        ->and(outcome(['baseline' => 0.05, 'lift' => 0.2, 'weights' => [1, 1, 1], 'comparisons' => 'none'])['alpha_each'])->toBe(0.05);
});

it('says what a time that was chosen can find, and draws it against weeks', function () {
    $outcome = Outcome::of(Plan::read(['mean' => 20, 'sd' => 40, 'within' => [900, 1500, 2000, 2400], 'days' => 28]));
    $finds = $outcome->toArray()['finds'];
    expect($finds['points'])->toBeGreaterThan(4)->toBeLessThan(5)->and($outcome->toArray()['words'])->toStartWith('28 days')
        ->and($outcome->curve()[3])->toMatchArray(['weeks' => 4, 'visitors' => 2400, 'points' => $finds['points']])
        ->and(array_column($outcome->curve(), 'points'))->toBe(collect(array_column($outcome->curve(), 'points'))->sortDesc()->values()->all());
});

it('refuses what no plan can be made with, at its field', function (array $plan, string $field) {
    expect(static fn () => Outcome::of(Plan::read($plan)))->toThrow(static fn (InvalidAssumption $e) => expect($e->field)->toBe($field));
})->with([
    [['lift' => 0.1], 'baseline'], [['baseline' => 0, 'lift' => 0.1], 'baseline'], [['baseline' => 1.2], 'baseline'], [['baseline' => '5 %'], 'baseline'],
    [['baseline' => 0.5, 'lift' => 1.5], 'lift'], [['baseline' => 0.5, 'lift' => 0], 'lift'], [['baseline' => 0.5, 'lift' => 0.1, 'points' => 0.1], 'points'],
    [['baseline' => 0.5, 'mean' => 3, 'sd' => 1], 'baseline'], [['mean' => 3, 'sd' => 0], 'sd'], [['mean' => 0, 'sd' => 1, 'lift' => 0.1], 'lift'],
    [['baseline' => 0.1, 'lift' => 0.1, 'alpha' => 0], 'alpha'], [['baseline' => 0.1, 'lift' => 0.1, 'power' => 1], 'power'], [['baseline' => 0.1, 'sides' => 3], 'sides'],
    [['baseline' => 0.1, 'weights' => [1]], 'weights'], [['baseline' => 0.1, 'weights' => [1, 0]], 'weights.1'], [['baseline' => 0.1, 'margin' => 0.2], 'margin'],
    [['baseline' => 0.1, 'daily' => 0], 'daily'], [['baseline' => 0.1, 'within' => [5, 3]], 'within.1'], [['baseline' => 0.1, 'daily' => 3, 'within' => [5]], 'daily'],
    [['baseline' => 0.1, 'days' => 1.5], 'days'], [['baseline' => 0.1, 'share' => 0], 'share'], [['baseline' => 0.1, 'lift' => 1e-12], 'lift'], [['baseline' => 0.1, 'nonsense' => 1], 'nonsense'],
]);

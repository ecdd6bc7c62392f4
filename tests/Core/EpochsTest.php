<?php

use Pellix\Core\Counting\ExperimentCount;
use Pellix\Core\Counting\Split;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\EpochChange;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Statistics\EpochRatios;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Statistics\StratifiedRates;

/**
 * An experiment whose weights were changed half-way, in a season that changes, too: 12 % reach the goal before, 6 % after, and
 * two points more in the variant. Visitors are assigned by the core itself.
 *
 * @return array{Experiment, array<string, int>} with its figures
 */
function halfTime(): array
{
    $experiment = Experiment::read([
        'pellix' => 1, 'key' => 'half-time', 'salt' => 'half-time', 'share' => 1, 'pages' => ['all' => []],
        'variants' => [['key' => 'control', 'weight' => 50, 'control' => true], ['key' => 'short', 'weight' => 50]],
        'goals' => [['key' => 'done', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], 'count' => 'visitor']],
        'epochs' => [
            ['from' => '2026-03-01T00:00:00Z', 'weights' => ['control' => 50, 'short' => 50]],
            ['from' => '2026-03-08T00:00:00Z', 'weights' => ['control' => 90, 'short' => 10]],
        ],
    ]);
    $events = [];
    mt_srand(20260301);
    foreach ([0, 1] as $epoch) {
        $assigner = $experiment->assignerIn($epoch);
        for ($i = 0; $i < 6000; $i++) {
            $visitor = "v{$epoch}-{$i}";
            $variant = $assigner->variantOf($visitor);
            $time = new DateTimeImmutable(sprintf('2026-03-%02dT%02d:00:00Z', 1 + 7 * $epoch + $i % 6, $i % 24));
            $event = static fn (string $name, string $path, array $props, int $later): LogEvent => new LogEvent("{$visitor}-{$name}-{$later}", $visitor, $time->modify("+{$later} seconds"), $name, "https://a.test{$path}", $props, '', '', null);
            array_push($events, $event('page_view', '/', [], 0), $event('exposure', '/', ['experiment' => 'half-time', 'variant' => $variant], 1));
            if (mt_rand() / mt_getrandmax() < ($epoch === 0 ? 0.12 : 0.06) + ($variant === 'short' ? 0.02 : 0.0)) {
                $events[] = $event('page_view', '/done', [], 60);
            }
        }
    }

    return [$experiment, ExperimentCount::of($experiment, new Periods([[new DateTimeImmutable('2026-03-01T00:00:00Z'), null]]), $events)];
}

it('is not misled by weights that change half-way in a changing season, where adding up is', function () {
    [$experiment, $figures] = halfTime();
    $figure = static fn (string $name): int => $figures[$name] ?? 0;
    $split = Split::of($experiment, $figure);
    // Adding up, and holding all visitors against the weights of today, calls a mismatch where the core itself has assigned.
    expect(SampleRatio::test($split->units, [90, 10])->isMismatch())->toBeTrue()
        ->and($split->test()->joined?->isMismatch())->toBeFalse()->and($split->test()->joined?->test)->toBe('chi-square-epochs')->and($split->test()->joined?->df)->toBe(2)
        ->and($split->test()->joined?->statistic)->toAgreeWith($split->test()->each[0]->statistic + $split->test()->each[1]->statistic);

    $epochs = array_map(static fn (array $epoch, int $i): array => ['units' => $epoch['counts'], 'reached' => [$figure("goal.done.variant.control.epoch.{$i}.units"), $figure("goal.done.variant.short.epoch.{$i}.units")]], $split->epochs, [0, 1]);
    $naive = ($epochs[0]['reached'][1] + $epochs[1]['reached'][1]) / $split->units[1] - ($epochs[0]['reached'][0] + $epochs[1]['reached'][0]) / $split->units[0];
    $joined = (new StratifiedRates($epochs))->difference(1, 0);
    // The truth is two points; adding up shows more than twice as many.
    expect($naive)->toBeGreaterThan(0.04)
        ->and(abs($joined['difference'] - 0.02))->toBeLessThan(2 * $joined['error'])->and($joined['error'])->toBeLessThan(0.01);
    $rates = (new StratifiedRates($epochs))->rates();
    expect(abs($rates[1] - $rates[0] - 0.02))->toBeLessThan(0.02)->and(abs($rates[0] - 0.09))->toBeLessThan(0.01);
});

it('joins epochs that an exact test decides, and one that nothing can excuse', function () {
    $small = EpochRatios::test([['counts' => [3, 1], 'weights' => [1, 1]], ['counts' => [60, 40], 'weights' => [1, 1]]]);
    expect($small->each[0]?->test)->toBe('exact-binomial')->and($small->joined?->df)->toBe(3)
        ->and($small->joined?->statistic)->toAgreeWith(-2 * log(0.625) + 4.0)
        ->and(EpochRatios::test([['counts' => [50, 0], 'weights' => [1, 0]], ['counts' => [50, 50], 'weights' => [1, 1]]])->joined?->test)->toBe('chi-square')
        ->and(EpochRatios::test([['counts' => [50, 2], 'weights' => [1, 0]], ['counts' => [50, 50], 'weights' => [1, 1]]])->joined?->isMismatch())->toBeTrue()
        ->and(EpochRatios::test([['counts' => [0, 0], 'weights' => [1, 1]]])->joined)->toBeNull();
});

it('has rates of those epochs alone that every variant has visitors in', function () {
    // The second is stopped: the first goes on, and only where both were are they compared.
    $rates = new StratifiedRates([['units' => [100, 100], 'reached' => [10, 20]], ['units' => [300, 0], 'reached' => [90, 0]]]);
    expect($rates->rates()[0])->toAgreeWith(0.4 * 0.1 + 0.6 * 0.3)->and($rates->rates()[1])->toBe(0.2)->and($rates->difference(1, 0)['difference'])->toAgreeWith(0.1)
        ->and((new StratifiedRates([['units' => [10, 0], 'reached' => [5, 0]], ['units' => [100, 100], 'reached' => [10, 20]]]))->rates())->toBe([0.1, 0.2])
        ->and((new StratifiedRates([['units' => [100, 0], 'reached' => [10, 0]], ['units' => [0, 100], 'reached' => [0, 20]]]))->difference(1, 0))->toBeNull();
});

it('knows variants by their keys, in whatever order they are written', function () {
    $file = experimentFile(['variants' => [['weight' => 90], ['weight' => 0]]]);
    $turned = [...$file, 'variants' => array_reverse($file['variants'])];
    $said = static fn (array $after): array => EpochChange::between(Experiment::read(experimentFile()), Experiment::read($after), [2000, 1124], 0.1)->words;
    expect($said($turned))->toBe($said($file))->and(implode(' ', $said($turned)))->toContain("its 1\u{202f}124 visitors keep it");
});

it('says in numbers what a change does to the analysis', function (array $change, array $fields, array $words) {
    $before = Experiment::read(experimentFile());
    $said = EpochChange::between($before, Experiment::read(experimentFile($change)), [1562, 1562], 0.1);
    expect($said->fields)->toBe($fields);
    foreach ($words as $part) {
        expect(str_replace("\u{202f}", ' ', implode(' ', $said->words)))->toContain($part);
    }
})->with([
    'a name' => [['name' => 'Other'], [], []],
    'the share' => [['share' => 0.25], ['share'], ['A new epoch begins: the share changes.', 'The 3 124 visitors so far and those to come are compared separately']],
    'the weights' => [['variants' => [['weight' => 90], ['weight' => 10]]], ['weights'], ['the weights change', 'would be called a mismatch', 'naive pooling would be off by 0.95 points']],
    'what is shown' => [['variants' => [1 => ['changes' => [['kind' => 'text', 'selector' => 'h2', 'value' => 'Other']]]]], ['shown'], ['what variants show changes']],
    'a variant that is stopped' => [['variants' => [1 => ['weight' => 0]]], ['weights'], ['its 1 562 visitors keep it']],
    'one whose visitors are moved' => [['variants' => [1 => ['weight' => 0, 'moves' => true]]], ['weights', 'shown'], ['they count for neither']],
]);

<?php

use Pellix\Core\Counting\Split;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Formats\JsonDocument;
use Pellix\Core\Formats\Moment;

it('reads an experiment file and writes the same', function () {
    expect(Experiment::read(experimentFile())->toArray())->toEqual(experimentFile());
});

it('reads the shortest file there can be', function () {
    $experiment = Experiment::read(['pellix' => 1, 'key' => 'x', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]]]);
    expect($experiment->share)->toBe(1.0)->and($experiment->pages->matches('http://a.test/anything'))->toBeTrue()->and($experiment->audience)->toBeNull();
});

it('names the field that is wrong', function (array $change, string $complaint) {
    expect(complaint(fn () => Experiment::read(experimentFile($change))))->toStartWith($complaint);
})->with([
    [['pellix' => 2], 'pellix:'],
    [['key' => 'Loan Steps'], 'key:'],
    [['name' => str_repeat('x', 121)], 'name:'],
    [['salt' => ''], 'salt:'],
    [['share' => 1.5], 'share:'],
    [['share' => '1'], 'share: A number is needed.'],
    [['kind' => 'popup'], 'kind:'],
    [['variants' => [1 => ['weight' => -1]]], 'variants.1.weight:'],
    [['variants' => [1 => ['key' => 'control']]], 'variants.1.key:'],
    [['variants' => [1 => ['control' => true]]], 'variants.1.changes: The control'],
    [['variants' => [1 => ['changes' => [['kind' => 'paint']]]]], 'variants.1.changes.0.kind:'],
    [['variants' => [1 => ['changes' => [['selector' => 'h1 { x']]]]], 'variants.1.changes.0.selector:'],
    [['variants' => [1 => ['changes' => [['kind' => 'style', 'property' => 'Color']]]]], 'variants.1.changes.0.property:'],
    [['variants' => [1 => ['changes' => [['kind' => 'style', 'property' => 'color', 'value' => 'red; x: y']]]]], 'variants.1.changes.0.value:'],
    [['variants' => [1 => ['changes' => [['kind' => 'style', 'property' => 'background', 'value' => 'url(http://evil.test/x)']]]]], 'variants.1.changes.0.value:'],
    [['variants' => [1 => ['changes' => [['kind' => 'style', 'property' => 'background', 'value' => '\75rl(//x)']]]]], 'variants.1.changes.0.value:'],
    [['variants' => [0 => ['changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'x']]]]], 'variants.0.changes: The control'],
    [['pages' => ['op' => 'equals']], 'pages.op:'],
    [['pages' => ['value' => 'https://a.test/loan']], 'pages.value: A path begins'],
    [['audience' => ['fact' => 'moon']], 'audience.fact:'],
    [['goals' => [['pages' => ['value' => 'done']]]], 'goals.0.pages.value:'],
    [['goals' => [['role' => 'main']]], 'goals.0.role:'],
    [['goals' => [1 => ['key' => 'done', 'name' => 'Again', 'pages' => ['all' => []]]]], 'goals.1.key: The key "done" is taken'],
    [['epochs' => [['weights' => ['long' => 1]]]], 'epochs.0.weights.long: There is no variant "long".'],
    [['epochs' => [['from' => 'March']]], 'epochs.0.from:'],
    [['end' => '2026-03-01T00:00:00Z'], 'end: An experiment ends after it starts.'],
]);

it('refuses what is no object', function (mixed $json) {
    expect(fn () => Experiment::read($json))->toThrow(InvalidExperiment::class, 'An experiment is a JSON object.');
})->with([null, 7, 'x', [[1, 2]]]);

it('moves only along its life', function (string $from, string $action, ?string $to) {
    $move = fn () => Stage::from($from)->after($action);
    $to === null ? expect($move)->toThrow(InvalidExperiment::class, "is {$from}") : expect($move())->toBe(Stage::from($to));
})->with([
    ['draft', 'start', 'running'], ['running', 'pause', 'paused'], ['paused', 'resume', 'running'], ['running', 'end', 'ended'],
    ['paused', 'end', 'ended'], ['ended', 'archive', 'archived'],
    ['running', 'start', null], ['draft', 'end', null], ['ended', 'resume', null], ['archived', 'start', null], ['draft', 'fly', null],
]);

it('says what is possible', function () {
    expect(Stage::Draft->possible())->toBe(['start', 'schedule'])->and(Stage::Scheduled->possible())->toBe(['start', 'unschedule'])->and(Stage::Running->possible())->toBe(['pause', 'end'])->and(Stage::Archived->possible())->toBe([]);
});

it('knows on which line a value stands', function () {
    $document = JsonDocument::parse("{\n  \"a\": [1,\n    {\"b\": \"x\\\"y\",\n \"c\": null}],\n\"d\": {}\n}");
    expect($document->lineOf('a.1.c'))->toBe(4)->and($document->lineOf('a.1.b'))->toBe(3)->and($document->lineOf('a.1.missing'))->toBe(3)
        ->and($document->lineOf('d'))->toBe(5)->and($document->lineOf('nowhere'))->toBe(1);
});

it('points at the first mistake in JSON', function (string $text, string $message) {
    expect(fn () => JsonDocument::parse($text))->toThrow(InvalidJson::class, $message);
})->with([
    ["{\"a\": 1,\n \"b\": tru}", 'line 2, column 7: a value was expected'],
    ["{\"a\": 1\n \"b\": 2}", 'line 2, column 2: "," or "}" was expected'],
    ['[1, 2,]', 'line 1, column 7: a value was expected'],
    ['{a: 1}', 'line 1, column 2: a text in double quotes was expected'],
    ['{"a" 1}', 'column 6: ":" after a name was expected'],
    ['{} {}', 'column 4: the end of the file was expected'],
    ['', 'line 1, column 1'],
]);

it('reads times as RFC 3339 gives them', function (string $text, ?string $moment) {
    $read = Moment::parse($text);
    expect($read === null ? null : Moment::format($read))->toBe($moment);
})->with([
    // RFC 3339, section 5.8: examples.
    ['1985-04-12T23:20:50.52Z', '1985-04-12T23:20:50.520Z'],
    ['1996-12-19T16:39:57-08:00', '1996-12-20T00:39:57.000Z'],
    ['1990-12-31T23:59:60Z', '1991-01-01T00:00:00.000Z'],
    ['1937-01-01T12:00:27.87+00:20', '1937-01-01T11:40:27.870Z'],
    // Not RFC 3339.
    ['1985-04-12', null], ['1985-04-12T24:20:50Z', null], ['1985-04-31T23:20:50Z', null], ['yesterday', null], ['1985-04-12T23:20:50', null],
]);

it('goes on as another only with the same variants, unit and kind', function (array $change, ?string $field) {
    $before = Experiment::read(experimentFile());
    try {
        $before->mayBecome(Experiment::read(experimentFile($change)));
        $got = null;
    } catch (InvalidExperiment $e) {
        $got = $e->field;
    }
    expect($got)->toBe($field);
})->with([
    [['name' => 'Other', 'share' => 0.1], null],
    [['variants' => [1 => ['weight' => 0]]], null],
    [['variants' => [['key' => 'short', 'weight' => 50], ['key' => 'control', 'changes' => []]]], 'variants'],
    [['variants' => [2 => ['key' => 'third', 'name' => 'Third', 'weight' => 50, 'control' => false, 'changes' => []]]], 'variants'],
    [['unit' => 'user'], 'unit'],
]);

it('expects of each epoch what its weights give of those who entered in it', function (array $epochs, array $figures, array $units, array $expected) {
    $experiment = Experiment::read([...array_diff_key(experimentFile(), ['epochs' => 0]), ...($epochs === [] ? [] : ['epochs' => $epochs])]);
    $split = Split::of($experiment, static fn (string $name): int => $figures[$name] ?? 0);
    expect($split->units)->toBe($units)->and($split->expected)->toBe($expected);
})->with([
    'nobody yet: the weights' => [[], [], [0, 0], [50.0, 50.0]],
    'no epochs' => [[], ['variant.control.units' => 60, 'variant.short.units' => 40, 'variant.control.epoch.0.units' => 60, 'variant.short.epoch.0.units' => 40], [60, 40], [50.0, 50.0]],
    // 100 at 1:1, then 50 at 4:1: 50 + 40 and 50 + 10, by hand.
    'weights that changed' => [
        [['from' => '2026-03-01T00:00:00Z', 'weights' => ['control' => 50, 'short' => 50]], ['from' => '2026-03-05T00:00:00Z', 'weights' => ['control' => 80, 'short' => 20]]],
        ['variant.control.units' => 92, 'variant.short.units' => 58, 'variant.control.epoch.0.units' => 52, 'variant.short.epoch.0.units' => 48, 'variant.control.epoch.1.units' => 40, 'variant.short.epoch.1.units' => 10],
        [92, 58], [90.0, 60.0],
    ],
]);

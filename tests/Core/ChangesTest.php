<?php

use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\InvalidExperiment;

/** @return array{takes: list<array<string, mixed>>, refuses: list<array<string, mixed>>} shared with the runtime */
function changeVectors(): array
{
    return json_decode((string) file_get_contents(__DIR__.'/../vectors/changes.json'), true);
}

it('takes every kind of change, and gives it back as it came', function () {
    $kinds = [];
    foreach (changeVectors()['takes'] as $case) {
        foreach ($case['changes'] as $json) {
            $change = Change::read($json, true);
            expect($change->toArray())->toEqual($json, $case['name'])
                ->and(array_diff(array_keys($json), ['kind', 'selector', 'off', ...$change->kind->members()]))->toBe([]);
            $kinds[] = $json['kind'];
        }
    }
    foreach (['p { content: "}" } /* { */ @media (min-width: 9em) { q { top: 0 } }', '.a > b { --x: 1 }'] as $css) {
        expect(Change::read(['kind' => 'sheet', 'value' => $css], true)->toArray())->toBe(['kind' => 'sheet', 'value' => $css]);
    }
    expect(Change::read(['kind' => 'script', 'value' => 'if (a < b) { c() }'], true)->kind)->toBe(ChangeKind::Script)
        ->and(array_values(array_unique([...$kinds, 'sheet', 'script'])))->toEqualCanonicalizing(array_column(ChangeKind::cases(), 'value'));
});

it('refuses what would run or load something unseen, or does not hold together', function (array $change, string $field) {
    try {
        Change::read($change);
    } catch (InvalidExperiment $e) {
        expect($e->field)->toBe($field);

        return;
    }
    $this->fail('It was taken: '.json_encode($change));
})->with(fn () => array_map(fn (array $one): array => [$one['change'], $one['field']], changeVectors()['refuses']));

it('refuses a member that another kind has', function (array $change, string $field) {
    expect(fn () => Change::read($change, true))->toThrow(fn (InvalidExperiment $e) => expect($e->field)->toBe($field));
})->with([
    [['kind' => 'hide', 'selector' => 'p', 'value' => 'x'], 'value'], [['kind' => 'sheet', 'selector' => 'p', 'value' => 'p{}'], 'selector'],
    [['kind' => 'text', 'selector' => 'p', 'value' => 'x', 'property' => 'color'], 'property'], [['kind' => 'remove', 'selector' => 'p', 'of' => true], 'of'],
]);

it('binds a change to widths of the screen, and to nothing else', function (string $media, ?string $kept, array $holds = [], array $fails = []) {
    $read = fn (): Change => Change::read(['kind' => 'hide', 'selector' => 'p', 'media' => $media], true);
    if ($kept === null) {
        expect($read)->toThrow(fn (InvalidExperiment $e) => expect($e->field)->toBe('media'));

        return;
    }
    expect($read()->toArray())->toBe(['kind' => 'hide', 'selector' => 'p', 'media' => $kept]);
    foreach ($holds as $width) {
        expect($read()->width?->holds($width))->toBeTrue("{$media} at {$width}");
    }
    foreach ($fails as $width) {
        expect($read()->width?->holds($width))->toBeFalse("{$media} at {$width}");
    }
})->with([
    // Inclusive at both ends (W3C Media Queries Level 4, 2.4.3, "min-" and "max-" prefixes).
    ['(max-width: 600px)', '(max-width: 600px)', [1, 600], [601]], ['(min-width: 601px)', '(min-width: 601px)', [601, 5000], [600]],
    ['( max-width:900px )  and (min-width:601px)', '(min-width: 601px) and (max-width: 900px)', [601, 900], [600, 901]],
    ['(max-width: 600px), print', null], ['screen', null], ['(max-width: 40em)', null], ['(min-width: 2px) and (min-width: 3px)', null], ['(min-width: 900px) and (max-width: 600px)', null], ['', null], ['(max-width: 600px) {} * { display: none }', null], ['not (max-width: 600px)', null],
]);

it('takes no widths for what belongs to no element', function () {
    expect(fn () => Change::read(['kind' => 'sheet', 'value' => 'p { top: 0 }', 'media' => '(max-width: 600px)'], true))->toThrow(fn (InvalidExperiment $e) => expect($e->field)->toBe('media'));
});

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

<?php

use Pellix\Core\Formats\Differences;
use Pellix\Core\Formats\Same;

it('tells what differs, field by field', function (array $before, array $after, array $fields) {
    expect(array_column(Differences::between($before, $after), 'field'))->toBe($fields);
})->with([
    'nothing' => [['a' => 1, 'b' => ['x' => 1, 'y' => 2]], ['b' => ['y' => 2.0, 'x' => 1], 'a' => 1.0], []],
    'texts that PHP takes for equal numbers' => [['a' => '1000'], ['a' => '1e3'], ['a']],
    'a member of a member' => [['a' => ['b' => ['c' => 1]]], ['a' => ['b' => ['c' => 2]]], ['a.b.c']],
    'one more at the top' => [['v' => [['key' => 'a', 'w' => 1]]], ['v' => [['key' => 'b', 'w' => 1], ['key' => 'a', 'w' => 1]]], ['v.b']],
    'one of a list with keys' => [['v' => [['key' => 'a', 'w' => 1], ['key' => 'b', 'w' => 1]]], ['v' => [['key' => 'a', 'w' => 1], ['key' => 'b', 'w' => 2]]], ['v.b.w']],
    'a list without keys, as a whole' => [['v' => [1, 2]], ['v' => [1, 2, 3]], ['v']],
    'what is made' => [[], ['a' => ['b' => 1]], ['a']],
    'what becomes something else' => [['a' => ['b' => 1]], ['a' => [1]], ['a']],
]);

it('joins two steps, and forgets what came back to itself', function () {
    $step = static fn (string $field, mixed $before, mixed $after): array => ['field' => $field, 'before' => $before, 'after' => $after];
    expect(Differences::joined([$step('a', 1, 2), $step('b', 1, 2)], [$step('a', 2, 3), $step('b', 2, 1.0), $step('c', null, 'x')]))->toBe([$step('a', 1, 3), $step('c', null, 'x')]);
});

it('is bounded: many fields, and long texts', function () {
    $found = Differences::between([], ['text' => str_repeat('é', 5000), ...array_fill_keys(array_map(static fn (int $i): string => "f{$i}", range(1, 500)), 1)]);
    expect($found)->toHaveCount(200)->and(mb_strlen($found[0]['after']))->toBe(2001)
        ->and(mb_strlen((string) Differences::between(['a' => 1], ['a' => [range(1, 5000)]])[0]['after']))->toBe(2001)
        ->and(Same::json([1, 2], [2, 1]))->toBeFalse()->and(Same::json(null, []))->toBeFalse();
});

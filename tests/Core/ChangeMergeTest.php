<?php

use Pellix\Core\Experiments\Together\ChangeMerge;

/** A list by short names: `a` is a change of the text of `.a`, `a2` another wording of it. */
function listed(string $names): array
{
    return array_map(static fn (string $name): array => ['kind' => 'text', 'selector' => ".{$name[0]}", 'value' => $name], array_filter(explode(' ', $names)));
}

it('puts together what two people have made of one list', function (string $base, string $mine, string $theirs, string $all, string $both = '') {
    $merged = ChangeMerge::of(listed($base), listed($mine), listed($theirs));
    expect(implode(' ', array_column($merged->changes, 'value')))->toBe($all)
        ->and(implode(' ', array_map(static fn (int $i): string => $merged->changes[$i]['value'], $merged->both)))->toBe($both);
})->with([
    'nobody has done anything' => ['a b', 'a b', 'a b', 'a b'],
    'one has added' => ['a', 'a b', 'a', 'a b'],
    'both have added' => ['a', 'a b', 'a c', 'a c b'],
    'both have added in front and at the end' => ['a', 'b a', 'a c', 'b a c'],
    'both have added the same' => ['a', 'a b', 'a b', 'a b'],
    'both began' => ['', 'a', 'b', 'b a'],
    'one has taken out, one has added' => ['a b', 'b', 'a b c', 'b c'],
    'both have taken out the same' => ['a b', 'b', 'b', 'b'],
    'they have taken out different ones' => ['a b c', 'b c', 'a b', 'b'],
    'each has written another one anew' => ['a b', 'a2 b', 'a b2', 'a2 b2'],
    'both have written the same one anew, alike' => ['a', 'a2', 'a2', 'a2'],
    'both have written the same one anew, differently' => ['a b', 'a2 b', 'a3 b', 'a3 a2 b', 'a3 a2'],
    'one has written anew what the other took out' => ['a b', 'a2 b', 'b', 'a2 b', 'a2'],
    'the other way round' => ['a b', 'b', 'a2 b', 'a2 b', 'a2'],
    'one has moved, one has added' => ['a b c', 'c a b', 'a b c d', 'c a b d'],
    'one has moved, the other has written anew' => ['a b c', 'c a b', 'a b c2', 'c2 a b'],
    'both have moved: as it is kept' => ['a b c', 'c a b', 'b a c', 'b a c'],
    'taking back an added one, after somebody else has added' => ['a b', 'a', 'a b c', 'a c'],
    'taking back that one was taken out' => ['b', 'a b', 'b c', 'a b c'],
    'everything is gone' => ['a b', '', 'a b', ''],
]);

it('loses nothing that either has written, whatever they do at the same time', function () {
    mt_srand(20261127);
    for ($round = 0; $round < 400; $round++) {
        $base = array_slice(['a', 'b', 'c', 'd', 'e'], 0, mt_rand(0, 5));
        $work = static function (string $who) use ($base): array {
            $list = $base;
            for ($step = mt_rand(1, 4); $step > 0; $step--) {
                $at = mt_rand(0, max(0, count($list) - 1));
                match (mt_rand(0, 3)) {
                    0 => array_splice($list, $at, 0, [chr(mt_rand(ord('h'), ord('z'))).$who.$step]),
                    1 => $list !== [] ? $list[$at] = "{$list[$at][0]}{$who}{$step}" : null,
                    2 => array_splice($list, $at, 1),
                    default => shuffle($list),
                };
            }

            return $list;
        };
        [$mine, $theirs] = [$work('m'), $work('t')];
        $merged = array_column(ChangeMerge::of(listed(implode(' ', $base)), listed(implode(' ', $mine)), listed(implode(' ', $theirs)))->changes, 'value');
        $written = [...array_diff($mine, $base), ...array_diff($theirs, $base)];
        expect(array_diff($written, $merged))->toBe([], json_encode([$base, $mine, $theirs, $merged]));
        // Nothing comes back that one has taken out and the other left alone, and nothing is there twice.
        expect(array_diff($merged, $mine, $theirs))->toBe([])->and(count($merged))->toBe(count(array_unique($merged)), json_encode([$base, $mine, $theirs, $merged]));
    }
});

it('tells changes of one element apart by what they set, and keeps members that it does not know', function () {
    $style = static fn (string $property, string $value, array $more = []): array => ['kind' => 'style', 'selector' => '.a', 'property' => $property, 'value' => $value, ...$more];
    $base = [$style('color', 'red'), $style('width', '10px')];
    $merged = ChangeMerge::of($base, [$style('color', 'blue'), $style('width', '10px')], [$style('color', 'red'), $style('width', '20px', ['off' => true])]);
    expect($merged->changes)->toBe([$style('color', 'blue'), $style('width', '20px', ['off' => true])])->and($merged->both)->toBe([]);
    // One that stood alone in its place, and was given another selector, was written anew.
    $merged = ChangeMerge::of([['kind' => 'hide', 'selector' => '.a']], [['kind' => 'hide', 'selector' => '.b']], [['kind' => 'hide', 'selector' => '.a'], ['kind' => 'remove', 'selector' => '.c']]);
    expect($merged->changes)->toBe([['kind' => 'hide', 'selector' => '.b'], ['kind' => 'remove', 'selector' => '.c']]);
});

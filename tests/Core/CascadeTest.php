<?php

use Pellix\Core\Rehearsal\Cascade;
use Pellix\Core\Rehearsal\Declaration;

/** @param array{int, int, int} $specificity */
function cssDeclared(string $value, string $selector = '', array $specificity = [0, 0, 0], bool $important = false, string $origin = 'author', ?int $layer = null, int $order = 1, bool $ours = false): Declaration
{
    return new Declaration('color', $value, $important, $selector, $specificity, $origin, $layer, $order, $selector === '' ? '' : 'https://shop.test/shop.css', 4, $ours);
}

// Source: CSS Cascading and Inheritance Level 5 (W3C), 6.1, "Cascade Sorting Order"; 6.2 for layers.
it('finds the declaration that an element gets', function (string $wins, array $all) {
    expect(Cascade::winner($all)?->value)->toBe($wins)
        ->and(Cascade::winner(array_reverse($all))?->value)->toBe($wins);
})->with([
    'the more specific' => ['red', fn () => [cssDeclared('red', '#a', [1, 0, 0], order: 1), cssDeclared('blue', '.b.c.d', [0, 3, 0], order: 2)]],
    'the later of two alike' => ['blue', fn () => [cssDeclared('red', '.a', [0, 1, 0], order: 1), cssDeclared('blue', '.b', [0, 1, 0], order: 2)]],
    'the important before the more specific' => ['red', fn () => [cssDeclared('red', 'p', [0, 0, 1], true, order: 1), cssDeclared('blue', '#b', [1, 0, 0], order: 2)]],
    'the style attribute before every rule' => ['red', fn () => [cssDeclared('red', order: 1), cssDeclared('blue', '#b', [1, 0, 0], order: 2)]],
    'an important rule before a style attribute' => ['blue', fn () => [cssDeclared('red', order: 2), cssDeclared('blue', 'p', [0, 0, 1], true, order: 1)]],
    'an important style attribute before an important rule' => ['red', fn () => [cssDeclared('red', important: true, order: 1), cssDeclared('blue', '#b', [1, 0, 0], true, order: 2)]],
    'the author before the user' => ['red', fn () => [cssDeclared('red', 'p', [0, 0, 1], origin: 'author', order: 1), cssDeclared('blue', '#b', [1, 0, 0], origin: 'user', order: 2)]],
    'the important user before the important author' => ['blue', fn () => [cssDeclared('red', '#a', [1, 0, 0], true, 'author', order: 2), cssDeclared('blue', 'p', [0, 0, 1], true, 'user', order: 1)]],
    'the important browser before them all' => ['green', fn () => [cssDeclared('red', important: true, order: 3), cssDeclared('blue', 'p', [0, 0, 1], true, 'user', order: 2), cssDeclared('green', 'p', [0, 0, 1], true, 'user-agent', order: 1)]],
    'what is in no layer before what is in one' => ['red', fn () => [cssDeclared('red', 'p', [0, 0, 1], order: 1), cssDeclared('blue', '#b', [1, 0, 0], layer: 0, order: 2)]],
    'the later layer' => ['blue', fn () => [cssDeclared('red', '#a', [1, 0, 0], layer: 0, order: 2), cssDeclared('blue', 'p', [0, 0, 1], layer: 1, order: 1)]],
    'of what is important, the earlier layer' => ['red', fn () => [cssDeclared('red', 'p', [0, 0, 1], true, layer: 0, order: 1), cssDeclared('blue', '#a', [1, 0, 0], true, layer: 1, order: 2)]],
    'of what is important, a layer before none' => ['red', fn () => [cssDeclared('red', 'p', [0, 0, 1], true, layer: 0, order: 1), cssDeclared('blue', '#a', [1, 0, 0], true, order: 2)]],
]);

it('says what would have to be written instead', function (Declaration $winner, string $said) {
    expect(Cascade::advice(cssDeclared('teal', '.lead', [0, 1, 0], ours: true), $winner))->toContain($said);
})->with([
    [fn () => cssDeclared('grey', 'main p.lead', [0, 1, 2], true), '“html main p.lead { color: teal !important }”'],
    [fn () => cssDeclared('grey', 'main p.lead', [0, 1, 2]), '“color: teal !important”'],
    [fn () => cssDeclared('grey', ':root .lead', [0, 2, 0], true), '“:root .lead:not(#_) { color: teal !important }”'],
    [fn () => cssDeclared('grey', important: true), 'a change of the kind style'],
    [fn () => cssDeclared('grey'), '“color: teal !important”'],
]);

it('names the place of a declaration', function () {
    expect(cssDeclared('grey', 'main p.lead', [0, 1, 2], true)->place())->toBe('main p.lead in https://shop.test/shop.css, line 4 (specificity 0,1,2, !important)')
        ->and(cssDeclared('grey')->place())->toBe('the style attribute of the element');
});

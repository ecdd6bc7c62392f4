<?php

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\NamingPattern;

it('suggests a name by the pattern of the site, which fits it', function (string $template, string $wanted) {
    $pattern = NamingPattern::read($template);
    $suggested = $pattern->suggest(' Shorter form ', '/loan/steps?x=1', 7, new DateTimeImmutable('2026-03-02'));
    expect($suggested)->toBe($wanted)->and($pattern->fits($suggested))->toBeTrue()->and($pattern->fits('Shorter form'))->toBe($template === '{name}');
})->with([
    ['{year}-{month} {page} {number} {name}', '2026-03 loan-steps 007 Shorter form'],
    ['[{page}] {name} ({day}.{month}.{year})', '[loan-steps] Shorter form (02.03.2026)'],
    ['{name}', 'Shorter form'],
]);

it('refuses a pattern that could not be filled in', function (string $template) {
    NamingPattern::read($template);
})->with(['', '{page}', '{name} {name}', '{naem}', '{name} {}', str_repeat('x', 120).'{name}'])->throws(InvalidExperiment::class);

it('makes a sentence of the parts of a hypothesis', function (array $parts, string $sentence) {
    $file = ['pellix' => 1, 'key' => 'x', 'salt' => 's', 'hypothesis_parts' => $parts, 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]]];
    $experiment = Experiment::read($file);
    expect($experiment->hypothesis->text)->toBe($sentence)
        ->and(Experiment::read($experiment->toArray())->toArray())->toBe($experiment->toArray());
})->with([
    [
        ['because' => 'many leave at step two', 'change' => 'one step less', 'audience' => 'visitors on phones', 'effect' => 'bring more requests', 'measure' => 'loan requests'],
        'Because many leave at step two, we believe that one step less for visitors on phones will bring more requests; measured by loan requests.',
    ],
    [['change' => 'a larger button.', 'effect' => 'be found'], 'We believe that a larger button will be found.'],
    [['measure' => 'loans'], 'Measured by loans.'],
    [['because' => 'nobody scrolls'], 'Because nobody scrolls.'],
    [[], ''],
]);

it('keeps owner, notes and labels, and refuses labels that are none', function () {
    $file = ['pellix' => 1, 'key' => 'x', 'salt' => 's', 'owner' => 'Ana', 'notes' => "Two\nlines", 'labels' => ['form', 'step two', 'form'], 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]]];
    expect(Experiment::read($file, true)->toArray())->toMatchArray(['owner' => 'Ana', 'notes' => "Two\nlines", 'labels' => ['form', 'step two']]);
    foreach ([['a,b'], [' a'], [''], [str_repeat('x', 41)], [1], array_map(strval(...), range(1, 21))] as $labels) {
        expect(fn () => Experiment::read([...$file, 'labels' => $labels]))->toThrow(InvalidExperiment::class);
    }
});

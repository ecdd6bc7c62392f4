<?php

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Redirect;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\SiteSettings;
use Pellix\Core\Wiring\Tags\TagSet;

/** @param array<string, mixed> $change */
function redirectFile(array $change = []): array
{
    return array_replace([
        'pellix' => 1, 'key' => 'two-forms', 'salt' => 's', 'kind' => 'redirect', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'],
        'variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => '/loan-new?form=2']],
    ], $change);
}

it('puts the target and what the visitor brought together', function (string $target, string $visited, string $wanted) {
    expect(Redirect::merged($target, $visited))->toBe($wanted);
})->with(vectors('redirects')['merged']);

it('reads a redirect test, gives it back, and hands the targets and the part that leads there to the runtime', function () {
    $experiment = Experiment::read(redirectFile(), true);
    expect(Experiment::read($experiment->toArray())->toArray())->toBe($experiment->toArray())
        ->and($experiment->toArray()['variants'][1]['target'])->toBe('/loan-new?form=2')
        ->and($experiment->variants[1]->effects())->toBe(1);
    $compiled = RuntimeConfiguration::compile(new SiteSettings('plx_aaaaaaaaaaaaaaaa', ['site.test'], 15), 'https://p.test/c', [$experiment], TagSet::read([]), 0);
    expect($compiled['experiments'][0])->toMatchArray(['redirect' => true])
        ->and($compiled['experiments'][0]['variants'][1]['target'])->toBe('/loan-new?form=2')
        ->and(RuntimeConfiguration::parts($compiled))->toBe(['redirect'])
        ->and(RuntimeConfiguration::parts(['experiments' => []]))->toBe([])
        ->and(RuntimeConfiguration::parts(['experiments' => [['variants' => [['changes' => [['kind' => 'hide', 'selector' => 'p', 'media' => '(max-width: 600px)']]]]]]]))->toBe(['media']);
});

it('refuses what would lead nowhere, in circles, or somewhere unseen', function (array $change, string $field) {
    expect(fn () => Experiment::read(redirectFile($change), true))->toThrow(fn (InvalidExperiment $e) => expect($e->field)->toBe($field));
})->with([
    'no target' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1]]], 'variants.1.target'],
    'two that stay' => [['variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1, 'target' => '/x']]], 'variants.0.target'],
    'a target of the control' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true, 'target' => '/x'], ['key' => 'b', 'weight' => 1, 'target' => '/y']]], 'variants.0.target'],
    'changes beside it' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => '/x', 'changes' => [['kind' => 'hide', 'selector' => 'p']]]]], 'variants.1.changes'],
    'back to the page' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => '/loan?form=2']]], 'variants.1.target'],
    'back to the page on its host' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => 'https://site.test/loan']]], 'variants.1.target'],
    'code' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => 'javascript:alert(1)']]], 'variants.1.target'],
    'another host in disguise' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => '//evil.test/x']]], 'variants.1.target'],
    'another host behind a backslash' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => '/\\evil.test/x']]], 'variants.1.target'],
    'somebody in the address' => [['variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => 'https://site.test@evil.test/x']]], 'variants.1.target'],
    'a later start' => [['trigger' => ['kind' => 'time', 'seconds' => 3]], 'trigger'],
    'a target in the page' => [['kind' => 'in_page'], 'variants.1.target'],
    'factors' => [['kind' => 'multivariate'], 'kind'],
]);

it('still reads an older file whose redirect has no target, to assign and to count by it', function () {
    $old = redirectFile(['variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]]]);
    expect(Experiment::read($old)->assigner()->assign('somebody')->in)->toBeTrue();
});

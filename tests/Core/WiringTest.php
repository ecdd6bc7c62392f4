<?php

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\SiteSettings;
use Pellix\Core\Wiring\Snippet;
use Pellix\Core\Wiring\Tags\TagSet;

it('compiles what the runtime interprets', function () {
    $experiment = Experiment::read([
        'pellix' => 1, 'key' => 'x', 'salt' => 's', 'share' => 0.5, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/'],
        'variants' => [
            ['key' => 'control', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1],
            ['key' => 'c', 'weight' => 2, 'changes' => [['kind' => 'style', 'selector' => 'h1', 'property' => 'color', 'value' => 'red']]],
        ],
    ]);
    $compiled = RuntimeConfiguration::compile(new SiteSettings('plx_aaaaaaaaaaaaaaaa', ['a.test'], 15), 'https://p.test/c', [$experiment], TagSet::read([]), 0);
    expect($compiled['cookieSeconds'])->toBe(1296000)
        ->and($compiled['experiments'][0]['variants'])->toBe([
            ['key' => 'control', 'end' => 0.25, 'changes' => []],
            ['key' => 'b', 'end' => 0.5, 'changes' => []],
            ['key' => 'c', 'end' => 1.0, 'changes' => [['kind' => 'style', 'selector' => 'h1', 'property' => 'color', 'value' => 'red']]],
        ])
        ->and($compiled['experiments'][0])->not->toHaveKey('hypothesis');
});

it('sets cookies for the host that all others lie below', function (array $hosts, ?string $domain) {
    expect(RuntimeConfiguration::cookieDomain($hosts))->toBe($domain);
})->with([
    [['a.test'], null],
    [['desk.a.test', 'a.test'], 'a.test'],
    [['a.test', 'b.test'], null],
    [['a.test', 'nota.test'], null],
]);

it('gives out a snippet that holds its key and cannot be broken out of', function () {
    $snippet = Snippet::loader('plx_aaaaaaaaaaaaaaaa', 'https://p.test/</script>');
    expect($snippet)->toContain('data-pellix="plx_aaaaaaaaaaaaaaaa"')->and(substr_count($snippet, '</script>'))->toBe(1);
});

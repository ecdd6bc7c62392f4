<?php

use Pellix\Core\Wiring\Inspection\ContentSecurityPolicy;

const POLICY_FILE = 'https://measure.test/s/plx_aaaaaaaaaaaaaaaa.js';

/** What the policies of one header have against a loader with the text `alert(1)`: directive and what to add. */
function againstLoader(string $header, array $attributes = ['nonce' => 'n1'], ?string $page = null, string $file = POLICY_FILE): array
{
    $blocks = [];
    foreach (ContentSecurityPolicy::parse($header, $page) as $policy) {
        array_push($blocks, ...$policy->againstInline('alert(1)', $attributes), ...$policy->againstLoaded($file), ...$policy->againstBeacons(preg_replace('~/s/.*~', '/c', $file)));
    }

    return array_map(fn (array $block): string => "{$block[0]} {$block[1]}", $blocks);
}

function policyHash(string $text): string
{
    return "'sha256-".base64_encode(hash('sha256', $text, true))."'";
}

// W3C Content Security Policy Level 3: 2.2.2 (lists), 6.7.2.8 to 12 (matching), 6.7.3.2 and 3 (inline), 8.2 (strict-dynamic).
it('lets through what Content Security Policy Level 3 lets through', function (string $policy, array $blocked) {
    expect(againstLoader($policy))->toBe($blocked);
})->with(fn () => [
    ['', []],
    ["img-src 'none'", []],
    ["default-src 'none'", ['default-src '.policyHash('alert(1)'), 'default-src https://measure.test', 'default-src https://measure.test']],
    ["script-src 'unsafe-inline' https://measure.test", []],
    ["script-src 'unsafe-inline' 'nonce-other' https://measure.test", ['script-src '.policyHash('alert(1)')]],
    ["script-src 'unsafe-inline' 'nonce-' https://measure.test", []],
    ["script-src 'nonce-n1' https://measure.test", []],
    ["script-src 'nonce-n1'", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' 'strict-dynamic'", []],
    ["script-src 'unsafe-inline' 'strict-dynamic' https:", ['script-src '.policyHash('alert(1)')]],
    ["SCRIPT-SRC 'NONCE-n1' https:", []],
    ["script-src 'nonce-N1' https:", ['script-src '.policyHash('alert(1)')]],
    ['script-src '.policyHash('alert(1)').' *.test', []],
    ["script-src 'nonce-n1' *.measure.test", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' https://measure.test:8443", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' http://measure.test:80", []],
    ["script-src 'nonce-n1' measure.test:*/s/", []],
    ["script-src 'nonce-n1' measure.test/S/", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' MEASURE.test/%73/", []],
    ["script-src 'nonce-n1' https://measure.test/other/", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' https://measure.test/s", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' //measure.test", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' wss:", []],
    ["script-src 'nonce-n1' data:", ['script-src https://measure.test']],
    ["script-src 'nonce-n1' *; connect-src 'self'", ['connect-src https://measure.test']],
    ["script-src-elem 'nonce-n1' https://measure.test; script-src 'none'; connect-src *", []],
    ["script-src 'nonce-n1' https://measure.test; script-src 'none'", []],
    ["img-src *, script-src 'nonce-n1' https:, connect-src 'none'", ['connect-src https://measure.test']],
    ["require-trusted-types-for 'script'", ['require-trusted-types-for a default policy of trusted types, or the file as a script element,']],
    ['sandbox allow-forms', ['sandbox allow-scripts']],
    ['sandbox allow-scripts', []],
]);

it('takes \'self\' for the page\'s own origin, and an address without a scheme for one with the page\'s', function () {
    $self = "script-src 'nonce-n1' 'self'";
    expect(againstLoader($self, page: 'https://measure.test/a'))->toBe([])
        ->and(againstLoader($self, page: 'http://measure.test/a'))->toBe([])
        ->and(againstLoader($self, page: 'https://measure.test:444/a'))->toBe(['script-src https://measure.test'])
        ->and(againstLoader($self))->toBe(['script-src https://measure.test'])
        ->and(againstLoader("script-src 'nonce-n1' measure.test", page: 'https://a.test/', file: 'http://measure.test/s/x.js'))->toBe(['script-src http://measure.test'])
        ->and(againstLoader("script-src 'nonce-n1' https://measure.test; connect-src *", page: 'http://a.test/', file: '//measure.test/s/x.js'))->toBe(['script-src //measure.test']);
});

it('gives no nonce to an element that may have swallowed another', function () {
    expect(againstLoader("script-src 'nonce-n1' https:", ['nonce' => 'n1', 'x' => '<script']))->toBe(['script-src '.policyHash('alert(1)')]);
});

it('judges the file on its own as a file', function (string $policy, array $attributes, bool $isLet) {
    expect(ContentSecurityPolicy::parse($policy)[0]->againstFile(POLICY_FILE, $attributes) === [])->toBe($isLet);
})->with(fn () => [
    ['script-src https://measure.test', [], true],
    ["script-src 'unsafe-inline'", [], false],
    ["script-src 'nonce-a'", ['nonce' => 'a'], true],
    ["script-src 'strict-dynamic' https://measure.test", [], false],
    ["script-src 'sha256-AAAA'", ['integrity' => 'sha256-AAAA'], true],
    ["script-src 'sha256-AAAA'", ['integrity' => 'sha256-AAAA sha384-BBBB'], false],
    ["require-trusted-types-for 'script'", [], true],
]);

it('keeps a style out that only a script puts there, unless it is named', function () {
    $css = 'body { opacity: 0 !important }';
    $blocks = fn (string $policy): array => ContentSecurityPolicy::parse($policy)[0]->againstStyle($css);
    expect($blocks("style-src 'self'"))->toBe([['style-src', policyHash($css)]])->and($blocks('style-src '.policyHash($css)))->toBe([])
        ->and($blocks("style-src 'unsafe-inline'"))->toBe([])->and($blocks("style-src 'unsafe-inline' 'nonce-a'"))->not->toBe([])->and($blocks("style-src-elem 'unsafe-inline'; style-src 'none'"))->toBe([]);
});

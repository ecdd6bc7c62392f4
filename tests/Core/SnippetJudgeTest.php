<?php

use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Proof;
use Pellix\Core\Rehearsal\SnippetJudge;
use Pellix\Core\Rehearsal\SnippetSeen;

/** @param array<string, mixed> $own */
function snippetSeen(array $own = []): SnippetSeen
{
    return new SnippetSeen(...[
        'key' => 'plx_shop', 'pellix' => 'https://pellix.test', 'page' => 'https://shop.test/join', 'landed' => 'https://shop.test/join?x=1', 'files' => [snippetFile()],
        'loaders' => 1, 'refused' => [], 'runs' => true, 'number' => 4, 'published' => 4, ...$own,
    ]);
}

/** @param array<string, mixed> $own */
function snippetFile(array $own = []): array
{
    return ['url' => 'https://pellix.test/s/plx_shop.js?n=4', 'status' => 200, 'failed' => null, 'blocked' => null, ...$own];
}

function refusal(string $by, string $what, bool $isReport = false): array
{
    return ['by' => $by, 'what' => $what, 'line' => 3, 'isReport' => $isReport];
}

it('says what keeps the snippet from running, once', function (array $own, array $codes, string $said = '') {
    $judged = SnippetJudge::judge(snippetSeen($own));
    $findings = array_values(array_filter($judged, static fn (Finding|Proof $one): bool => $one instanceof Finding));
    expect(array_map(static fn (Finding $one): string => $one->code->value, $findings))->toBe($codes)
        ->and(count($judged) - count($findings))->toBe($codes === [] ? 1 : 0)
        ->and(implode(' ', array_map(static fn (Finding $one): string => "{$one->words} {$one->cause} {$one->next}", $findings)))->toContain($said);
})->with([
    'nothing' => [[], []],
    'not there' => [['files' => [], 'loaders' => 0, 'runs' => false], ['snippet.not-run'], 'our file was not asked for'],
    'inline code refused' => [['files' => [], 'runs' => false, 'refused' => [refusal('script-src-elem', 'inline')]], ['snippet.blocked-by-policy'], 'a nonce for the inline code'],
    'somebody else’s inline code refused' => [['refused' => [refusal('script-src-elem', 'inline')]], []],
    'our file refused' => [['files' => [snippetFile(['failed' => 'net::ERR', 'blocked' => 'csp'])], 'runs' => false, 'refused' => [refusal('script-src-elem', 'https://pellix.test/s/plx_shop.js')]], ['snippet.blocked-by-policy', 'snippet.not-loaded'], 'https://pellix.test for script-src'],
    'events refused' => [['refused' => [refusal('connect-src', 'https://pellix.test/c')]], ['snippet.blocked-by-policy'], 'keeps our events from leaving the page'],
    'trusted types' => [['files' => [], 'runs' => false, 'refused' => [refusal('require-trusted-types-for', 'trusted-types-sink')]], ['snippet.blocked-by-policy'], 'require-trusted-types-for'],
    'only reported' => [['refused' => [refusal('script-src', 'https://pellix.test/s/plx_shop.js', true)]], []],
    'another site' => [['files' => [snippetFile(['url' => 'https://pellix.test/s/plx_other.js'])], 'runs' => false], ['snippet.another-key'], 'plx_other'],
    'twice' => [['loaders' => 2], ['snippet.twice'], '2 times'],
    'an error of the server' => [['files' => [snippetFile(['status' => 503])], 'runs' => false], ['snippet.not-loaded'], 'answered 503'],
    'stopped' => [['runs' => false], ['snippet.not-run'], 'its runtime did not begin'],
    'sent on' => [['runs' => false, 'landed' => 'https://shop.test/other'], ['page.leads-away'], 'https://shop.test/other'],
    'a file in its place' => [['files' => [], 'runs' => false, 'landed' => 'about:blank', 'download' => 'https://shop.test/join'], ['page.unreachable'], 'a file comes instead'],
    'an older file' => [['number' => 3], ['snippet.older-file'], 'number 3'],
    'a draft’s own file' => [['number' => 3, 'published' => null], []],
]);

it('tells errors of our code from the page’s own', function (array $line, array $codes) {
    $judged = SnippetJudge::console(snippetSeen(['console' => [['level' => 'error', 'text' => 'x is null', 'url' => 'https://shop.test/app.js', 'line' => 7, 'kind' => 'exception', ...$line]]]));
    expect(array_map(static fn (Finding|Proof $one): string => $one instanceof Finding ? $one->code->value : 'proof', $judged))->toBe($codes);
})->with([
    'the page’s' => [[], ['proof', 'page.errors']],
    'ours' => [['url' => 'https://pellix.test/s/plx_shop.js'], ['snippet.errors']],
    'said by ours' => [['level' => 'warning', 'text' => 'pellix: a change failed', 'kind' => 'console'], ['snippet.errors']],
    'a warning' => [['level' => 'warning'], ['proof']],
    'of the network' => [['kind' => 'network'], ['proof']],
    'of a policy' => [['kind' => 'security'], ['proof']],
]);

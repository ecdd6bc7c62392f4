<?php

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Rehearsal\AssignmentJudge;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Proof;

it('says of a visitor what is lost of them, and since when', function (?string $id, ?string $variant, ?string $said) {
    $finding = AssignmentJudge::lost(['id' => 'one', 'variant' => 'short'], ['id' => $id, 'variant' => $variant], 'in a new tab', 'short');
    expect($finding?->code)->toBe($said === null ? null : CheckCode::AssignmentLost)->and("{$finding?->words} {$finding?->cause}")->toContain($said ?? '');
})->with([
    'nothing' => ['one', 'short', null],
    'everything' => [null, null, 'the cookie plx_visitor is gone in a new tab'],
    'the id' => ['other', 'short', 'The cookie plx_visitor was one, and is other'],
    'the variant' => ['one', null, 'the cookie plx_variants has lost it'],
    'another variant' => ['one', 'long', 'it is “long” in a new tab, and was “short”'],
]);

it('holds cookies to what was declared', function (array $change, ?string $said, bool $secure = false, ?string $domain = null) {
    $cookie = ['expires' => 1_000_000 + 15 * 86_400 - 30, 'sameSite' => 'Lax', 'secure' => false, 'path' => '/', 'domain' => 'shop.test'];
    $judged = AssignmentJudge::cookies(['plx_visitor' => $cookie, 'plx_variants' => array_filter([...$cookie, ...$change], static fn (mixed $one): bool => $one !== null)], 15, $secure, $domain, 1_000_000.0, 'short');
    expect($judged)->toBeInstanceOf($said === null ? Proof::class : Finding::class)->and($judged->words)->toContain($said ?? 'last 15 days');
})->with([
    'as declared' => [[], null],
    'for a session' => [['expires' => -1], 'plx_variants lasts 0 days, not 15'],
    'shorter' => [['expires' => 1_000_000 + 86_400], 'plx_variants lasts 1 days, not 15'],
    'without SameSite' => [['sameSite' => null], 'plx_variants is SameSite unset, not Lax'],
    'Secure without TLS' => [['secure' => true], 'plx_variants is Secure'],
    'not Secure over TLS' => [[], 'plx_visitor is not Secure', true],
    'for a folder' => [['path' => '/shop'], 'plx_variants is for the path /shop, not /'],
    'for another domain' => [['domain' => '.www.shop.test'], 'plx_variants is for .www.shop.test, not shop.test', false, 'shop.test'],
    'for the domain' => [['domain' => '.shop.test'], null, false, 'shop.test'],
]);

/** @return list<array{string, string|null, list<string>}> visitors as the core assigns them */
function quickVisitors(Experiment $experiment, int $many): array
{
    return array_map(static fn (int $i): array => ["quick-{$i}", $experiment->assigner()->variantOf("quick-{$i}"), []], range(1, $many));
}

it('compares quick visitors with the core, the weights and the group', function (callable $change, array $codes, int $proofs) {
    $experiment = Experiment::read(['pellix' => 1, 'key' => 'a', 'salt' => 's', 'share' => 0.8, 'pages' => ['all' => []], 'variants' => [['key' => 'control', 'weight' => 1, 'control' => true], ['key' => 'short', 'weight' => 3]]]);
    $judged = AssignmentJudge::quick(array_map($change, quickVisitors($experiment, 200)), $experiment, ['b'], 0.001);
    expect(array_map(static fn (Finding $one): string => $one->code->value, $judged['findings']))->toBe($codes)->and($judged['proofs'])->toHaveCount($proofs);
})->with([
    'as computed' => [fn (array $one) => $one, [], 2],
    'all the other way round' => [fn (array $one) => [$one[0], ['control' => 'short', 'short' => 'control'][$one[1]] ?? null, []], ['assignment.differs', 'assignment.split'], 1],
    'of two experiments of the group' => [fn (array $one) => [$one[0], $one[1], ['b', 'elsewhere']], ['assignment.group-overlap'], 1],
    'who did not enter are in no overlap' => [fn (array $one) => [$one[0], $one[1], $one[1] === null ? ['b'] : []], [], 2],
    'nobody enters' => [fn (array $one) => [$one[0], null, []], ['assignment.differs'], 0],
]);

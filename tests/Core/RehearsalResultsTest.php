<?php

use Pellix\Core\Pages\Outline;
use Pellix\Core\Rehearsal\Due;
use Pellix\Core\Rehearsal\Results;
use Pellix\Core\Rehearsal\Subject;

/** @param array<string, mixed> $own */
function toldFinding(string $code, string $severity, array $own = []): array
{
    $one = ['code' => $code, 'severity' => $severity, 'link' => 'exposure', 'words' => "{$code} said", 'variant' => 'short', 'screen' => null, 'goal' => null, ...$own];

    return [...$one, 'identity' => implode('|', [$code, $one['variant'], $one['screen'], $one['goal'], '""'])];
}

function toldProof(string $link, ?string $variant = null, ?string $goal = null): array
{
    return ['link' => $link, 'words' => 'It works.', 'variant' => $variant, 'screen' => null, 'goal' => $goal];
}

it('takes what was met on several screens for one thing, and puts the gravest first', function () {
    $merged = Results::merged([toldFinding('a', 'note'), toldFinding('b', 'blocker', ['screen' => 'desktop']), toldFinding('b', 'blocker', ['screen' => 'mobile']), toldFinding('c', 'warning')]);
    expect(array_column($merged, 'code'))->toBe(['b', 'c', 'a'])->and($merged[0]['screens'])->toBe(['desktop', 'mobile'])->and($merged[2]['screens'])->toBe([]);
});

it('vouches for a goal that every variant reached, and of which nothing was found that blocks', function (array $findings, array $proofs, array $goals) {
    expect(Results::vouched([['findings' => $findings, 'proofs' => $proofs]], ['control', 'short'])['goals'])->toBe($goals);
})->with([
    'in both' => [[], [toldProof('goals', 'control', 'bought'), toldProof('goals', 'short', 'bought')], ['bought']],
    'in one' => [[], [toldProof('goals', 'control', 'bought')], []],
    'in both, and twice in one' => [[toldFinding('goal.more-than-once', 'blocker', ['goal' => 'bought'])], [toldProof('goals', 'control', 'bought'), toldProof('goals', 'short', 'bought')], []],
    'in both, late in one' => [[toldFinding('goal.late', 'warning', ['goal' => 'bought'])], [toldProof('goals', 'control', 'bought'), toldProof('goals', 'short', 'bought')], ['bought']],
]);

it('tells each link of the chain what was proven and found there', function () {
    $links = Results::vouched([
        ['findings' => [toldFinding('a', 'blocker'), toldFinding('b', 'note', ['link' => 'page'])], 'proofs' => [toldProof('entry')]],
        ['findings' => [toldFinding('c', 'warning')], 'proofs' => [toldProof('entry'), toldProof('exposure')]],
    ], ['control'])['links'];
    expect($links)->toBe([
        'exposure' => ['proofs' => 1, 'blockers' => ['a said'], 'warnings' => ['c said']],
        'page' => ['proofs' => 0, 'blockers' => [], 'warnings' => []],
        'entry' => ['proofs' => 2, 'blockers' => [], 'warnings' => []],
    ]);
});

it('tells what broke from what was mended, and takes nothing for mended that was not looked at again', function () {
    $before = [toldFinding('stays', 'blocker'), toldFinding('goes', 'blocker'), toldFinding('unseen', 'blocker', ['variant' => 'long']), toldFinding('elsewhere', 'note', ['screen' => 'tablet'])];
    $compared = Results::compared($before, [toldFinding('stays', 'blocker'), toldFinding('comes', 'warning')], ['control', 'short'], ['desktop']);
    expect(array_map(static fn (array $all): array => array_column($all, 'code'), $compared))->toBe(['broke' => ['comes'], 'mended' => ['goes'], 'stayed' => ['stays']]);
});

it('has a verdict', function (bool $isDone, int $blockers, int $warnings, string $verdict) {
    expect(Results::verdict($isDone, $blockers, $warnings))->toBe($verdict);
})->with([[true, 0, 0, 'holds'], [true, 0, 2, 'doubt'], [true, 1, 2, 'broken'], [false, 0, 2, 'unseen'], [false, 1, 0, 'broken']]);

it('says what has changed since a rehearsal', function () {
    $then = ['variants' => ['control' => 'a', 'short' => 'b', 'old' => 'c'], 'goals' => ['bought' => 'd'], 'rules' => 'e', 'wiring' => 4];
    expect(Subject::changed($then, $then))->toBe([])
        ->and(Subject::changed($then, ['variants' => ['control' => 'a', 'short' => 'x', 'new' => 'y'], 'goals' => ['bought' => 'd'], 'rules' => 'f', 'wiring' => 5], ['/loan']))
        ->toBe(['variant short', 'variant new', 'variant old, which is no more', 'who may enter, and where', 'the site’s tags', 'the page /loan'])
        ->and(Subject::print(['a' => 1]))->toBe(Subject::print(['a' => 1]))->not->toBe(Subject::print(['a' => 2]));
});

it('rehearses again at its hour, once a day, and after a publication that has settled', function (Due $due, string $now, int $number, ?string $published, ?int $rehearsed, ?string $planned, ?string $why) {
    $zone = new DateTimeZone('Europe/Lisbon');
    $at = static fn (?string $time): ?DateTimeImmutable => $time === null ? null : new DateTimeImmutable($time, new DateTimeZone('UTC'));
    expect($due->why($at($now)->setTimezone($zone), $number, $at($published), $rehearsed, $at($planned)))->toBe($why);
})->with([
    'before its hour' => [new Due('06:30', false), '2026-07-01 05:29', 3, null, null, null, null],
    'at its hour, by summer time' => [new Due('06:30', false), '2026-07-01 05:30', 3, null, null, null, 'planned'],
    'once a day' => [new Due('06:30', false), '2026-07-01 20:00', 3, null, 3, '2026-07-01 05:30', null],
    'the next day' => [new Due('06:30', false), '2026-07-02 05:31', 3, null, 3, '2026-07-01 05:30', 'planned'],
    'the day is the site’s' => [new Due('00:10', false), '2026-06-30 23:15', 3, null, 3, '2026-06-30 05:30', 'planned'],
    'just published' => [new Due(null, true), '2026-07-01 12:00:30', 4, '2026-07-01 12:00', 3, null, null],
    'published a minute ago' => [new Due(null, true), '2026-07-01 12:01', 4, '2026-07-01 12:00', 3, null, 'published'],
    'rehearsed since' => [new Due(null, true), '2026-07-01 12:05', 4, '2026-07-01 12:00', 4, null, null],
    'never rehearsed' => [new Due(null, true), '2026-07-01 12:05', 4, '2026-07-01 12:00', null, null, null],
    'neither wanted' => [new Due(null, false), '2026-07-01 12:05', 4, '2026-07-01 12:00', 3, null, null],
]);

it('knows a page again whatever it says today, and not when it is built otherwise', function (string $other, bool $isSame) {
    $page = '<!DOCTYPE html><html><head><link rel="stylesheet" href="/shop.css?v=3"><script src="/app.4f2a91c0.js"></script></head><body><ul class="news list"><li class="one">A</li><li class="one">B</li></ul><p id="offer" class="lead">4 chairs</p><script>var token = "a81b"; show(12);</script></body></html>';
    $of = static fn (string $html): string => Outline::of($html);
    expect($of(strtr($page, ['@@' => ''])) === $of(str_replace(...[...explode('=>', $other, 2), $page])))->toBe($isSame);
})->with([
    'other words' => ['4 chairs=>No chair is left', true],
    'more of the same' => ['<li class="one">B</li>=><li class="one">B</li><li class="one">C</li>', true],
    'classes in another order' => ['news list=>list news', true],
    'another token' => ['a81b=>77fe', true],
    'another version of a file' => ['shop.css?v=3=>shop.css?v=4', true],
    'another build of a file' => ['4f2a91c0=>77aa01bd', true],
    'another id' => ['id="offer"=>id="deal"', false],
    'another class' => ['class="lead"=>class="intro"', false],
    'other code' => ['show(12)=>hide(12)', false],
    'another file' => ['/shop.css=>/store.css', false],
    'an element less' => ['<p id="offer" class="lead">4 chairs</p>=>', false],
]);

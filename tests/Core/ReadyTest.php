<?php

use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\PagesInspected;
use Pellix\Core\Chain\Reception;
use Pellix\Core\Chain\Rehearsed;
use Pellix\Core\Chain\Seen;
use Pellix\Core\Chain\VariantSeen;
use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\AdviceCode;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Ready\GoalRecord;
use Pellix\Core\Experiments\Ready\ReadyCode;
use Pellix\Core\Experiments\Ready\ReadyFacts;
use Pellix\Core\Experiments\Ready\ReadyList;
use Pellix\Core\Experiments\Ready\ReadyPoint;
use Pellix\Core\Experiments\TakenOver;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Pages\PageCopy;

const READY_NOW = '2026-03-10T12:00:00Z';
const READY_PAGE = '<html><head></head><body><main><h1>Loans</h1><form id="loan" action="/loan/done"><button class="send" title="Go">Send</button></form><p class="foot">x</p></main></body></html>';

function readyTime(string $ago = '1 hour'): DateTimeImmutable
{
    return (new DateTimeImmutable(READY_NOW))->modify("-{$ago}");
}

/** @param array<string, mixed> $change */
function readySeen(array $change = []): Observations
{
    $all = [
        'started' => false, 'now' => new DateTimeImmutable(READY_NOW), 'changed' => readyTime('1 day'), 'freshSeconds' => 86400, 'share' => 1.0,
        'siteViews' => new Seen(900, 0, readyTime()), 'pageViews' => new Seen(120, 80, readyTime()), 'addresses' => [], 'entered' => new Seen(), 'ratio' => null, 'canAlarm' => false,
        'crossed' => 0, 'recomputed' => 0, 'disagreeing' => 0, 'variants' => [new VariantSeen('control', 'Control', 1, 0, new Seen(), new Seen(), new Seen()), new VariantSeen('short', 'Short', 1, 1, new Seen(), new Seen(), new Seen())],
        'goals' => [], 'rejected' => new Seen(), 'commonReason' => null, 'accepted' => 900, 'inspected' => new PagesInspected(3, 3, 0, 0, null, readyTime()),
        ...$change,
    ];

    return new Observations(...$all);
}

/** @return array<string, mixed> the file of an experiment that could start */
function readyFile(array $change = []): array
{
    return array_replace_recursive([
        'pellix' => 1, 'key' => 'steps', 'name' => 'Steps', 'hypothesis' => 'Fewer steps', 'owner' => 'Ines', 'salt' => 's', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'], 'planned_days' => 14,
        'variants' => [['key' => 'control', 'weight' => 1, 'control' => true], ['key' => 'short', 'weight' => 1, 'changes' => [['kind' => 'text', 'selector' => 'p.foot', 'value' => 'y']]]],
        'goals' => [['key' => 'sent', 'name' => 'Sent', 'kind' => 'click', 'selector' => 'button.send', 'role' => 'primary']],
        'plan' => ['baseline' => 0.1, 'lift' => 0.2, 'weights' => [1, 1]],
    ], $change);
}

/**
 * @param array<string, mixed> $file
 * @param array<string, mixed> $facts
 *
 * @return list<ReadyPoint>
 */
function readyPoints(array $file = [], array $facts = []): array
{
    $experiment = Experiment::read(readyFile($file));
    $all = [
        'experiment' => $experiment, 'seen' => readySeen(), 'advice' => [], 'copies' => [new CopiedPage('https://a.test/loan', PageCopy::read(READY_PAGE))], 'targets' => [],
        'goals' => array_map(static fn (Goal $goal): GoalRecord => new GoalRecord($goal, readyTime(), 40, 0, []), $experiment->goals), 'cookieDays' => 90, 'asksConsent' => false, 'hasEnd' => true,
        ...$facts,
    ];

    return ReadyList::of(new ReadyFacts(...$all));
}

it('has a point for whatever matters, each with its words, in the order of the chain', function () {
    $points = readyPoints();
    expect(ReadyList::blockers($points))->toBe([])
        ->and(array_values(array_unique(array_map(static fn (ReadyPoint $point): ?string => $point->code->link()?->value, $points))))->toBe([null, 'page', 'snippet', 'entry', 'split', 'exposure', 'goals', 'data']);
    foreach ($points as $point) {
        expect($point->words)->not->toBe('');
    }
    $unsaid = array_map(static fn (ReadyPoint $point): string => $point->code->value, array_filter($points, static fn (ReadyPoint $point): bool => $point->state->value === 'advice'));
    // No browser has met it. The paragraph is seen at once, and no guard stands there; visits of one's own are never told apart yet.
    expect(array_values($unsaid))->toBe(['what.rehearsed', 'snippet.guard', 'entry.internal-traffic']);
});

it('says what speaks against a start', function (array $file, array $facts, ReadyCode $code, string $state, string $words) {
    $found = array_values(array_filter(readyPoints($file, array_map(static fn (mixed $fact): mixed => $fact instanceof Closure ? $fact() : $fact, $facts)), static fn (ReadyPoint $point): bool => $point->code === $code));
    expect(array_map(static fn (ReadyPoint $point): string => $point->state->value, $found))->toContain($state)
        ->and(str_replace("\u{202f}", ' ', implode(' ', array_map(static fn (ReadyPoint $point): string => $point->words, $found))))->toContain($words);
})->with([
    'no reason' => [['hypothesis' => ''], [], ReadyCode::Hypothesis, 'advice', 'Nothing says why'],
    'nobody' => [['owner' => ''], [], ReadyCode::Owner, 'advice', 'Nobody looks after it'],
    'other weights than planned' => [['variants' => [1 => ['weight' => 3]]], [], ReadyCode::Plan, 'advice', 'planned with other weights'],
    'the same weights, written otherwise' => [['variants' => [['weight' => 50], ['weight' => 50]]], [], ReadyCode::Plan, 'fine', 'visitors'],
    'the weights of the plan, the other way round' => [['variants' => [['weight' => 3]], 'plan' => ['weights' => [1, 3]]], [], ReadyCode::Plan, 'advice', 'planned with other weights'],
    'broken in a rehearsal' => [[], ['seen' => fn () => readySeen(['rehearsed' => new Rehearsed(readyTime(), ['exposure' => ['proofs' => 1, 'blockers' => ['The colour does not show.', 'It is covered.'], 'warnings' => []]])])], ReadyCode::Rehearsed, 'blocker', 'The colour does not show. And 1 thing more.'],
    'rehearsed and sound' => [[], ['seen' => fn () => readySeen(['rehearsed' => new Rehearsed(readyTime(), ['exposure' => ['proofs' => 1, 'blockers' => [], 'warnings' => ['x']]])])], ReadyCode::Rehearsed, 'fine', 'A browser has met every variant'],
    'rehearsed before a change' => [[], ['seen' => fn () => readySeen(['rehearsed' => new Rehearsed(readyTime(), ['exposure' => ['proofs' => 1, 'blockers' => ['x'], 'warnings' => []]], ['the page /loan'])])], ReadyCode::Rehearsed, 'advice', 'before this changed: the page /loan'],
    'no page' => [[], ['seen' => fn () => readySeen(['pageViews' => new Seen(), 'inspected' => new PagesInspected()])], ReadyCode::Pages, 'blocker', 'No known page matches'],
    'a page without the snippet' => [[], ['seen' => fn () => readySeen(['inspected' => new PagesInspected(3, 3, 0, 1, 'https://a.test/loan', readyTime())])], ReadyCode::Snippet, 'blocker', '1 page of 3 would not run the snippet'],
    'nothing that proves the snippet' => [[], ['seen' => fn () => readySeen(['pageViews' => new Seen(5, 5, readyTime('3 days')), 'inspected' => new PagesInspected(3, 1, 0, 0, null, readyTime())])], ReadyCode::Snippet, 'blocker', '2 pages of 3 never inspected'],
    'evidence too old' => [[], ['seen' => fn () => readySeen(['pageViews' => new Seen(), 'inspected' => new PagesInspected(3, 3, 0, 0, null, readyTime('3 days'))])], ReadyCode::Snippet, 'blocker', 'older than the site'],
    'an audience of nobody' => [['audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'tablet']], ['seen' => fn () => readySeen(['pageViews' => new Seen(0, 0)])], ReadyCode::Audience, 'blocker', 'leaves nobody'],
    'an audience that was another a moment ago' => [['audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'tablet']], ['isCounting' => true], ReadyCode::Audience, 'fine', 'counted anew since its last change'],
    'an audience that nobody can tell' => [['audience' => ['fact' => 'cookie.x', 'op' => 'exists']], ['seen' => fn () => readySeen(['eligibleKnown' => false])], ReadyCode::Audience, 'advice', 'do not tell'],
    'no share' => [['share' => 0], [], ReadyCode::Share, 'blocker', '0 %'],
    'a full group' => [['group' => ['key' => 'g']], ['advice' => [new Advice(AdviceCode::GroupFull, 'share', 'No room.')]], ReadyCode::Group, 'blocker', 'No room.'],
    'one variant alone' => [['variants' => [1 => ['weight' => 0]]], [], ReadyCode::Weights, 'blocker', 'nothing to compare'],
    'a short life' => [[], ['advice' => [new Advice(AdviceCode::LifetimeShort, 'lifetime_days', 'Too short.')]], ReadyCode::Lifetime, 'advice', 'Too short.'],
    'a selector that finds nothing' => [[], ['advice' => [new Advice(AdviceCode::SelectorNone, 'variants.1.changes.0.selector', 'Finds nothing.')]], ReadyCode::Selectors, 'blocker', 'Finds nothing.'],
    'another experiment' => [[], ['advice' => [new Advice(AdviceCode::OtherExperiment, 'x', 'So does another.')]], ReadyCode::Clashes, 'advice', 'So does another.'],
    'a goal that never counted' => [[], ['goals' => fn () => [new GoalRecord(Experiment::read(readyFile())->goals[0], null, 0, 0, [])]], ReadyCode::Fired, 'blocker', 'never counted'],
    'a goal that a variant takes away' => [['variants' => [1 => ['changes' => [['kind' => 'remove', 'selector' => '#loan']]]]], [], ReadyCode::Reachable, 'blocker', 'takes away “button.send”'],
    'a goal that a rehearsal has reached' => [[], ['goals' => fn () => [new GoalRecord(Experiment::read(readyFile())->goals[0], null, 0, 0, [], readyTime())]], ReadyCode::Fired, 'fine', 'a rehearsal has, in every variant'],
    'values that do not come' => [[], ['goals' => fn () => [new GoalRecord(Goal::read(['key' => 'o', 'kind' => 'order']), readyTime(), 9, 9, [])]], ReadyCode::Values, 'blocker', '9 of 9 hits'],
    'two currencies' => [[], ['goals' => fn () => [new GoalRecord(Goal::read(['key' => 'o', 'kind' => 'order', 'currency' => 'EUR']), readyTime(), 9, 0, ['EUR', 'USD'])]], ReadyCode::Values, 'advice', 'several currencies'],
    'consent' => [[], ['asksConsent' => true], ReadyCode::Consent, 'advice', 'asked first'],
]);

it('wants the targets of a redirect in order, and their way to the goal', function () {
    $file = ['kind' => 'redirect', 'goals' => [['key' => 'done', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan/done']]], 'variants' => [1 => ['target' => '/new']]];
    $json = readyFile($file);
    unset($json['variants'][1]['changes'], $json['goals'][0]['selector']);
    $experiment = Experiment::read($json);
    $facts = ['experiment' => $experiment, 'advice' => [new Advice(AdviceCode::TargetNoSnippet, 'x', 'No snippet.'), new Advice(AdviceCode::TargetLinked, 'x', 'Linked.')], 'targets' => ['short' => new CopiedPage('https://a.test/new', PageCopy::read('<p>no form</p>'))]];
    $said = array_map(static fn (ReadyPoint $point): string => "{$point->code->value} {$point->state->value} {$point->words}", array_filter(readyPoints([], $facts), static fn (ReadyPoint $point): bool => $point->state->value !== 'fine'));
    expect(implode("\n", $said))->toContain('exposure.targets blocker No snippet.')->toContain('exposure.targets advice Linked.')->toContain('goals.reachable advice “Sent” may never count in variant “short”: https://a.test/new has no link or form');
});

it('says of a draft that is not finished just that', function () {
    expect(array_map(static fn (ReadyPoint $point): string => $point->code->value, ReadyList::of(new ReadyFacts(null, readySeen(), [], [], [], [], 90, false, false))))->toBe(['draft.finished']);
});

it('says "running" only together with what arrives', function (array $seen, string $began, bool $isSilent, string $words) {
    $reception = Reception::of(readySeen(['started' => true, ...$seen]), readyTime($began));
    expect($reception->isSilent)->toBe($isSilent)->and(str_replace("\u{202f}", ' ', $reception->words))->toContain($words);
})->with([
    [['entered' => new Seen()], '2 minutes', false, 'nothing received yet'],
    [['entered' => new Seen()], '12 minutes', true, 'running, nothing received for 12 minutes'],
    [['entered' => new Seen(1440, 1440, readyTime('3 minutes'))], '1 day', false, 'the last 3 minutes ago'],
    // One a minute for a day, and then none for an hour.
    [['entered' => new Seen(1440, 1440, readyTime('60 minutes'))], '1 day', true, 'nothing received for 60 minutes'],
    // Ten a day: an hour is nothing.
    [['entered' => new Seen(10, 10, readyTime('60 minutes'))], '1 day', false, 'the last 60 minutes ago'],
]);

it('sees whether a page already shows what was changed', function (array $change, string $page, ?bool $is) {
    expect(TakenOver::judge(Change::read($change), PageCopy::read("<body>{$page}</body>")))->toBe($is);
})->with([
    [['kind' => 'text', 'selector' => 'h1', 'value' => 'Hi  you'], '<h1> Hi you</h1>', true], [['kind' => 'text', 'selector' => 'h1', 'value' => 'Hi'], '<h1>Ho</h1>', false], [['kind' => 'text', 'selector' => 'h2', 'value' => 'Hi'], '<h1>Hi</h1>', null],
    [['kind' => 'html', 'selector' => 'p', 'value' => '<b>x</b>'], '<p><B>x</B></p>', true],
    [['kind' => 'attribute', 'selector' => 'a', 'attribute' => 'href', 'value' => '/x'], '<a href="/x">', true], [['kind' => 'attribute', 'selector' => 'a', 'attribute' => 'title', 'value' => null], '<a title="x">', false],
    [['kind' => 'class', 'selector' => 'a', 'add' => ['big'], 'remove' => ['old']], '<a class="big new">', true], [['kind' => 'class', 'selector' => 'a', 'add' => ['big']], '<a class="old">', false],
    [['kind' => 'hide', 'selector' => '.ad'], '<p>no</p>', true], [['kind' => 'hide', 'selector' => '.ad'], '<p class="ad">', false], [['kind' => 'hide', 'selector' => '.ad'], '<p class="ad" style="display: none">', true], [['kind' => 'remove', 'selector' => '.ad'], '<p class="ad" hidden>', false],
    [['kind' => 'style', 'selector' => 'p', 'property' => 'color', 'value' => 'red'], '<p style="color: RED !important">', true], [['kind' => 'style', 'selector' => 'p', 'property' => 'color', 'value' => 'red'], '<p>', null],
    [['kind' => 'insert', 'selector' => 'p', 'place' => 'after', 'value' => '<i>n</i>'], '<p>x</p><i>n</i>', true], [['kind' => 'insert', 'selector' => 'p', 'place' => 'first', 'value' => '<i>n</i>'], '<p>x</p><i>n</i>', false],
    [['kind' => 'move', 'selector' => '#a', 'place' => 'before', 'to' => '#b'], '<p id="a"></p><p id="b"></p>', true], [['kind' => 'move', 'selector' => '#a', 'place' => 'before', 'to' => '#b'], '<p id="b"></p><p id="a"></p>', false],
    [['kind' => 'sheet', 'value' => 'p{color:red}'], '<p>', null],
]);

it('takes what a browser has proven for what no visit has told yet, on pages that are in order', function (PagesInspected $inspected, Seen $views, string $state) {
    $proofs = ['proofs' => 2, 'blockers' => [], 'warnings' => []];
    $seen = readySeen(['pageViews' => $views, 'siteViews' => new Seen(), 'inspected' => $inspected, 'rehearsed' => new Rehearsed(readyTime(), ['page' => $proofs, 'snippet' => $proofs])]);
    $verdicts = array_column(array_map(static fn ($one): array => [$one->link->value, $one->state->value], Chain::judge($seen)->verdicts), 1, 0);
    expect($verdicts['snippet'])->toBe($state);
})->with([
    'in order, and nobody came' => [new PagesInspected(3, 3, 0, 0, null, readyTime()), new Seen(), 'holds'],
    'not inspected' => [new PagesInspected(3, 0, 0, 0, null, null), new Seen(), 'holds'],
    'one without the snippet' => [new PagesInspected(3, 3, 0, 1, 'https://a.test/loan', readyTime()), new Seen(), 'doubt'],
]);

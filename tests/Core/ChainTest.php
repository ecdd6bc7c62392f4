<?php

use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\GoalSeen;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\PagesInspected;
use Pellix\Core\Chain\Seen;
use Pellix\Core\Chain\VariantSeen;
use Pellix\Core\Chain\Verdict;
use Pellix\Core\Chain\Words;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\Objections;
use Pellix\Core\Statistics\SampleRatio;

const NOW = '2026-03-10T12:00:00Z';

function ago(string $duration = '1 hour'): DateTimeImmutable
{
    return (new DateTimeImmutable(NOW))->modify("-{$duration}");
}

/** @param array<string, mixed> $change */
function variantSeen(string $key, int $visitors, array $change = []): VariantSeen
{
    $seen = ['weight' => 50.0, 'changes' => $key === 'control' ? 0 : 1, 'applied' => $visitors, 'missed' => 0, ...$change];

    return new VariantSeen(
        $key,
        ucfirst($key),
        $seen['weight'],
        $seen['changes'],
        new Seen($visitors, $visitors, $visitors ? ago() : null),
        new Seen($seen['applied'], $seen['applied'], ago()),
        new Seen($seen['missed'], $seen['missed'], ago()),
        new Seen($seen['reverted'] ?? 0, $seen['reverted'] ?? 0, ago()),
        new Seen($seen['failed'] ?? 0, $seen['failed'] ?? 0, ago()),
    );
}

/** A healthy experiment, with changes. */
function observations(array $change = []): Observations
{
    $variants = $change['variants'] ?? [variantSeen('control', 510), variantSeen('short', 490)];
    $visitors = array_map(fn (VariantSeen $v): int => $v->exposures->visitors, $variants);
    $sum = array_sum($visitors);
    $all = [
        'started' => true, 'now' => new DateTimeImmutable(NOW), 'changed' => ago('8 days'), 'freshSeconds' => 86400, 'share' => 1.0,
        'siteViews' => new Seen(5000, 0, ago()), 'pageViews' => new Seen(1200, $sum, ago()), 'addresses' => ['http://a.test/loan'],
        'entered' => new Seen($sum, $sum, $sum ? ago() : null),
        'ratio' => $sum ? SampleRatio::test($visitors, array_map(fn (VariantSeen $v): float => $v->weight, $variants)) : null,
        'canAlarm' => SampleRatio::canAlarm($sum, array_map(fn (VariantSeen $v): float => $v->weight, $variants)),
        'crossed' => 0, 'recomputed' => 500, 'disagreeing' => 0, 'variants' => $variants,
        'goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(150, 150, ago()), ['control' => new Seen(50, 50, ago()), 'short' => new Seen(60, 60, ago())])],
        'rejected' => new Seen(), 'commonReason' => null, 'accepted' => 9000,
        ...array_diff_key($change, ['variants' => 0]),
    ];

    return new Observations(...$all);
}

/** @return array<string, string> link => state */
function states(Observations $seen): array
{
    $states = [];
    foreach (Chain::judge($seen)->verdicts as $verdict) {
        $states[$verdict->link->value] = $verdict->state->value;
    }

    return $states;
}

it('holds from end to end when all evidence is there', function () {
    expect(array_unique(states(observations())))->toBe(['page' => 'holds'])
        ->and(Chain::judge(observations())->words())->toBe('All seven links hold.');
});

it('names dated evidence for everything but what is unseen', function () {
    foreach (Chain::judge(observations())->verdicts as $verdict) {
        expect($verdict->evidence)->not->toBe([]);
        foreach ($verdict->evidence as $evidence) {
            expect($evidence->what)->not->toBe('')->and($evidence->by)->not->toBe('');
        }
    }
});

it('calls nothing working that was never observed', function () {
    $seen = observations([
        'siteViews' => new Seen(), 'pageViews' => new Seen(), 'variants' => [variantSeen('control', 0), variantSeen('short', 0)],
        'goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(), [])], 'accepted' => 0,
    ]);
    expect(array_unique(states($seen)))->toBe(['page' => 'unseen'])
        ->and(Chain::judge($seen)->words())->toBe('Nothing has been received from this experiment. First unproven link: Page. No page of the site has been seen yet.');
});

it('judges each link by its own evidence', function (array $change, string $link, string $state, string $words) {
    $verdicts = Chain::judge(observations($change))->verdicts;
    $verdict = array_values(array_filter($verdicts, fn (Verdict $one): bool => $one->link->value === $link))[0];
    expect($verdict->state->value)->toBe($state)->and($verdict->words)->toContain($words);
})->with(fn () => [
    'a page rule that matches nothing' => [['pageViews' => new Seen()], 'page', 'broken', 'No page that was seen matches'],
    'the same after three page views' => [['pageViews' => new Seen(), 'siteViews' => new Seen(3, 0, ago())], 'page', 'doubt', 'No page'],
    'pages not visited lately' => [['pageViews' => new Seen(9, 9, ago('2 days'))], 'page', 'stale', 'not lately'],
    'pages seen before the last change only' => [['pageViews' => new Seen(9, 9, ago('2 hours')), 'changed' => ago('1 hour')], 'page', 'stale', 'not lately'],
    'a snippet heard from other pages only' => [['pageViews' => new Seen()], 'snippet', 'unseen', 'none from a page of this experiment'],
    'a snippet gone silent' => [['pageViews' => new Seen(9, 9, ago('2 days'))], 'snippet', 'stale', 'lately'],
    'a draft' => [['started' => false], 'entry', 'unseen', 'Not started'],
    'half of the visitors staying out of a full share' => [['pageViews' => new Seen(3000, 2000, ago())], 'entry', 'doubt', 'Fewer visitors enter'],
    'more than the share entering' => [['share' => 0.3, 'pageViews' => new Seen(3000, 2000, ago())], 'entry', 'doubt', 'More visitors enter'],
    'the share entering' => [['share' => 0.5, 'pageViews' => new Seen(3000, 2000, ago())], 'entry', 'holds', 'as declared'],
    'nobody entering' => [['variants' => [variantSeen('control', 0), variantSeen('short', 0)], 'pageViews' => new Seen(100, 100, ago())], 'entry', 'broken', 'none enters'],
    'nobody entering yet, at a tiny share' => [['share' => 0.01, 'variants' => [variantSeen('control', 0), variantSeen('short', 0)], 'pageViews' => new Seen(9, 9, ago())], 'entry', 'doubt', 'few'],
    'a mismatch' => [['variants' => [variantSeen('control', 600), variantSeen('short', 450)]], 'split', 'broken', 'Variant “Short” has 14.3'],
    'a variant too many' => [['variants' => [variantSeen('control', 500, ['weight' => 90.0]), variantSeen('short', 120, ['weight' => 10.0])]], 'split', 'broken', 'more visitors'],
    'too few visitors' => [['variants' => [variantSeen('control', 3), variantSeen('short', 4)]], 'split', 'doubt', 'Too few'],
    'visitors who change sides' => [['crossed' => 40], 'split', 'doubt', 'change from one variant to another'],
    'a stray visitor who changed sides' => [['crossed' => 2], 'split', 'holds', 'as the weights say'],
    'assignments that are none of ours' => [['disagreeing' => 3], 'split', 'doubt', 'another variant than their id gives'],
    'a variant never shown' => [['variants' => [variantSeen('control', 500), variantSeen('short', 0)]], 'exposure', 'broken', '“Short” has not been shown to anybody'],
    'changes never applied' => [['variants' => [variantSeen('control', 510), variantSeen('short', 490, ['applied' => 0, 'missed' => 480])]], 'exposure', 'broken', 'looks like the control'],
    'changes that run into errors' => [['variants' => [variantSeen('control', 510), variantSeen('short', 490, ['failed' => 40])]], 'exposure', 'doubt', 'ran into errors in 8.2'],
    'changes that the page takes back' => [['variants' => [variantSeen('control', 510), variantSeen('short', 490, ['reverted' => 25])]], 'exposure', 'doubt', 'were taken back by the page in 5.1'],
    'changes applied at times' => [['variants' => [variantSeen('control', 510), variantSeen('short', 490, ['applied' => 400])]], 'exposure', 'doubt', '81.6'],
    'no goal' => [['goals' => []], 'goals', 'unseen', 'No goal is defined'],
    'a goal nobody reached' => [['goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(), [])]], 'goals', 'unseen', 'not been reached by anybody'],
    'a goal reached by others only' => [['goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(40, 40, ago()), [])]], 'goals', 'doubt', 'by nobody in this experiment'],
    'a goal silent in one variant' => [['goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(40, 40, ago()), ['control' => new Seen(40, 40, ago())])]], 'goals', 'doubt', 'never in variant “Short”'],
    'a goal not reached lately' => [['goals' => [new GoalSeen('done', 'Done', 'primary', new Seen(9, 9, ago('3 days')), ['control' => new Seen(4, 4), 'short' => new Seen(5, 5)])]], 'goals', 'stale', 'not lately'],
    'some events rejected' => [['rejected' => new Seen(300, 0, ago()), 'commonReason' => 'event.url'], 'data', 'doubt', '3.2'],
    'most events rejected' => [['rejected' => new Seen(9000, 0, ago()), 'commonReason' => 'event.url'], 'data', 'broken', 'event.url'],
    'a few events rejected' => [['rejected' => new Seen(9, 0, ago()), 'commonReason' => 'event.url'], 'data', 'holds', 'whole and in time'],
]);

it('puts the gravest link into words', function () {
    $seen = observations(['variants' => [variantSeen('control', 600), variantSeen('short', 450)], 'pageViews' => new Seen(9000, 1050, ago('2 days'))]);
    expect(Chain::judge($seen)->words())->toStartWith('Split: Variant “Short” has');
});

it('speaks of a draft by what can be known of it', function () {
    $nobody = [variantSeen('control', 0), variantSeen('short', 0)];
    expect(Chain::judge(observations(['started' => false, 'variants' => $nobody]))->words())->toBe('Not started. Its pages are there, and the snippet runs on them.')
        ->and(Chain::judge(observations(['started' => false, 'variants' => $nobody, 'pageViews' => new Seen()]))->words())->toBe('Not started. Page: No page that was seen matches the page rule.');
});

it('works out the rate of a goal per exposed visitor', function () {
    $goal = new GoalSeen('done', 'Done', 'primary', new Seen(), ['short' => new Seen(30, 20)]);
    expect($goal->rates([variantSeen('short', 80)]))->toBe([0.25])->and($goal->rates([variantSeen('short', 0)]))->toBe([null])->and($goal->hits())->toBe(30);
});

it('writes numbers as people read them', function () {
    expect(Words::count(1, 'visitor'))->toBe('1 visitor')->and(Words::count(12480, 'visitor'))->toBe("12\u{202f}480 visitors")
        ->and(Words::percent(1, 0))->toBe('–')->and(Words::p(log(0.0341)))->toBe('0.034')->and(Words::p(log(1.8e-6)))->toBe('1.8e-6')->and(Words::p(-5000))->toBe('under 1e-300');
});

/** @return array{string, string} state and words of a link */
function judgedLink(string $link, Observations $seen): array
{
    foreach (Chain::judge($seen)->verdicts as $verdict) {
        if ($verdict->link->value === $link) {
            return [$verdict->state->value, $verdict->words];
        }
    }

    return ['', ''];
}

it('lets inspections speak where no visitor has, and against what visitors say', function (string $link, array $change, array $inspected, string $state, string $words) {
    [$seenState, $seenWords] = judgedLink($link, observations([...$change, 'inspected' => new PagesInspected(...$inspected, last: ago())]));
    expect($seenState)->toBe($state)->and($seenWords)->toContain($words);
})->with(function () {
    $silent = ['siteViews' => new Seen(), 'pageViews' => new Seen()];
    $elsewhere = ['pageViews' => new Seen()];

    return [
        'all sound, and visited' => ['snippet', [], ['known' => 3, 'inspected' => 3], 'holds', 'The snippet runs'],
        'one of three without it' => ['snippet', [], ['known' => 3, 'inspected' => 3, 'faulty' => 1, 'example' => 'https://a.test/x'], 'doubt', 'missing or broken on 1 of 3 inspected pages, such as https://a.test/x'],
        'none with it, and nobody there' => ['snippet', $elsewhere, ['known' => 1, 'inspected' => 1, 'faulty' => 1, 'example' => 'https://a.test/x'], 'broken', 'missing or broken on 1 of 1 inspected page'],
        'it stands there, but is silent' => ['snippet', $silent, ['known' => 2, 'inspected' => 2], 'doubt', 'has not been heard from'],
        'nobody has looked' => ['snippet', $silent, ['known' => 2, 'inspected' => 0], 'unseen', 'No beacon has come'],
        'a page that cannot be fetched' => ['page', [], ['known' => 2, 'inspected' => 2, 'unreachable' => 1, 'example' => 'https://a.test/gone'], 'doubt', 'not all can be fetched, such as https://a.test/gone'],
        'pages that exist, but nobody visits' => ['page', $elsewhere, ['known' => 2, 'inspected' => 2], 'doubt', 'exist, but no visit'],
        'pages that are all gone' => ['page', $silent, ['known' => 1, 'inspected' => 1, 'unreachable' => 1, 'example' => 'https://a.test/gone'], 'unseen', 'No page of the site has been seen'],
    ];
});

it('counts what inspections found in one sentence', function () {
    $found = new PagesInspected(known: 9, inspected: 8, unreachable: 1, faulty: 2, example: null, last: ago());
    expect($found->sound())->toBe(5)
        ->and($found->evidence()[0]->what)->toBe('9 known pages match; of 8 inspected, the snippet stands on 5, is missing or broken on 2, and 1 could not be fetched')
        ->and($found->evidence()[0]->by)->toBe('inspection')
        ->and((new PagesInspected(known: 3))->evidence())->toBe([]);
});

it('speaks against figures where a link is broken, or a finding is open that nobody has explained', function () {
    $sound = Chain::judge(observations());
    $broken = Chain::judge(observations(['variants' => [variantSeen('control', 900), variantSeen('short', 500)]]));
    $finding = ['identity' => 'a', 'code' => 'srm.overall', 'severity' => 'blocker', 'message' => 'Off.', 'consequences' => [['identity' => 'b', 'code' => 'goal.dropped', 'severity' => 'warning', 'message' => 'Less.', 'consequences' => []]]];
    $codes = fn (Chain $chain, ?array $findings, array $said = []): array => array_column(Objections::of($chain, $findings, $said), 'code');
    expect($codes($sound, []))->toBe([])->and($codes($broken, []))->toBe(['chain.split'])->and($codes($sound, null))->toBe(['audit.none'])->and($codes($sound, [$finding]))->toBe(['srm.overall'])
        // What follows from an explained finding is told by itself; one that was only declared mended is open.
        ->and($codes($sound, [$finding], [['identity' => 'a', 'standing' => 'explained']]))->toBe(['goal.dropped'])
        ->and($codes($sound, [$finding], [['identity' => 'a', 'standing' => 'mended'], ['identity' => 'b', 'standing' => 'explained']]))->toBe([])
        ->and($codes($sound, [$finding], [['identity' => 'a', 'standing' => 'declared']]))->toBe(['srm.overall'])
        ->and(Gate::of(Objections::of($broken, [], []))->shows())->toBeFalse()->and(Gate::of(Objections::of($sound, null, []))->shows())->toBeTrue();
});

<?php

use Pellix\Core\Chain\Link;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Rehearsal\Cast;
use Pellix\Core\Rehearsal\ChangeJudge;
use Pellix\Core\Rehearsal\ChangeSeen;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Declaration;
use Pellix\Core\Rehearsal\ErrorJudge;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\FlickerJudge;
use Pellix\Core\Rehearsal\GoalJudge;
use Pellix\Core\Rehearsal\HarLog;
use Pellix\Core\Rehearsal\InstallationJudge;
use Pellix\Core\Rehearsal\PageLoad;
use Pellix\Core\Rehearsal\Paired;
use Pellix\Core\Rehearsal\Pictures;
use Pellix\Core\Rehearsal\QuickSplit;
use Pellix\Core\Rehearsal\RedirectJudge;
use Pellix\Core\Rehearsal\RedirectSeen;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Segments\Agent;
use Pellix\Core\Wiring\Har\Capture;

const TEXT_CHANGE = ['kind' => 'text', 'selector' => '#offer', 'value' => 'Four chairs'];

/** @param array<string, mixed> $own */
function seenElement(array $own = []): array
{
    return ['path' => '#offer', 'holds' => true, 'visible' => true, 'hidden' => null, 'display' => 'block', 'visibility' => 'visible', 'opacity' => '1', 'box' => [10, 10, 300, 40], 'text' => 'Four chairs', 'cover' => null, ...$own];
}

/** @param list<array{float, string}> $turns */
function lookedAt(array $turns, array $element = [], mixed ...$rest): ChangeSeen
{
    return new ChangeSeen(1, $turns, ['after 5 s' => ['stand' => end($turns)[1], 'found' => 1, 'understood' => true, 'elements' => [seenElement($element)], 'rules' => []]], ...$rest);
}

function judgedChange(ChangeSeen $seen, array $change = TEXT_CHANGE): ?Finding
{
    return ChangeJudge::judge(Change::read($change), $seen, 'short', Screen::Mobile);
}

it('says of a change whether it is in effect, and if not, why', function (ChangeSeen $seen, ?CheckCode $code, string $said) {
    $finding = judgedChange($seen);
    expect($finding?->code)->toBe($code)->and("{$finding?->words} {$finding?->cause}")->toContain($said);
})->with([
    'in effect' => [fn () => lookedAt([[5.0, 'none'], [80.0, 'made']]), null, ''],
    'taken back, and made again' => [fn () => lookedAt([[80.0, 'made'], [900.0, 'other'], [905.0, 'made']]), null, ''],
    'no element' => [fn () => lookedAt([[5.0, 'none']]), CheckCode::ChangeNoElement, 'matches #offer'],
    'never made' => [fn () => lookedAt([[5.0, 'other']]), CheckCode::ChangeNotMade, 'did not change it'],
    'an error' => [fn () => lookedAt([[5.0, 'other']], [], failed: 'TypeError: x is null'), CheckCode::ChangeFailed, 'TypeError: x is null'],
    'replaced' => [fn () => lookedAt([[100.0, 'made'], [900.0, 'none']], [], culprit: 'https://shop.test/app.js, line 12'), CheckCode::ChangeReplaced, 'At 0.9 s the page’s own script (https://shop.test/app.js, line 12)'],
    'covered' => [fn () => lookedAt([[5.0, 'made']], ['cover' => ['path' => 'aside.closing', 'position' => 'fixed', 'z' => '20']]), CheckCode::ChangeCovered, 'aside.closing lies over #offer (position fixed, z-index 20)'],
    'not displayed' => [fn () => lookedAt([[5.0, 'made']], ['visible' => false, 'display' => 'none']), CheckCode::ChangeInvisible, 'its display is none'],
    'cut off' => [fn () => lookedAt([[5.0, 'made']], ['visible' => false, 'hidden' => 'clipped']), CheckCode::ChangeInvisible, 'cuts it off'],
    'outside of the page' => [fn () => lookedAt([[5.0, 'made']], ['visible' => false, 'hidden' => 'off']), CheckCode::ChangeInvisible, 'outside of what can be scrolled to'],
    'white on white' => [fn () => lookedAt([[5.0, 'made']], ['visible' => false, 'hidden' => 'colour']), CheckCode::ChangeInvisible, 'no colour of their own'],
    'misspelt' => [fn () => lookedAt([[5.0, 'made']], [], unread: ['color: blurple']), CheckCode::ChangeNotUnderstood, 'color: blurple'],
    'animated' => [fn () => lookedAt([[5.0, 'made']], [], unheeded: [['element' => '#offer', 'property' => 'color', 'wanted' => 'teal', 'is' => 'red', 'by' => 'the animation glow']]), CheckCode::ChangeOutranked, 'is “red”, not “teal”. the animation glow sets it'],
    'without size' => [fn () => lookedAt([[5.0, 'made']], ['box' => [0, 0, 300, 0]]), CheckCode::ChangeInvisible, 'its size is 300 × 0'],
]);

it('says nothing of a change that is for other screens', function () {
    $never = lookedAt([[0.0, 'unknown']]);
    expect(judgedChange($never, [...TEXT_CHANGE, 'media' => '(min-width: 1025px)']))->toBeNull()
        ->and(judgedChange(lookedAt([[0.0, 'none']]), [...TEXT_CHANGE, 'media' => '(max-width: 600px)'])?->code)->toBe(CheckCode::ChangeNoElement);
});

it('says of a style sheet that the policy of the page refuses it', function () {
    $finding = judgedChange(lookedAt([[5.0, 'other']], [], refused: 'style-src-elem refuses inline'), ['kind' => 'sheet', 'value' => '.lead { color: teal }']);
    expect($finding?->code)->toBe(CheckCode::ChangeNotMade)->and($finding?->cause)->toContain('style-src-elem refuses inline');
});

it('says of a change that it is taken back again and again', function () {
    $turns = array_merge(...array_map(static fn (int $i): array => [[500.0 * $i, 'made'], [500.0 * $i + 480, 'other']], range(1, 6)), ...[[[3500.0, 'made']]]);
    expect(judgedChange(lookedAt($turns)->takenBy([['by' => 'a.js, line 4', 'at' => 1000.0]]))?->words)->toContain('taken back again and again: 6 times within 2.5 s')
        ->and(judgedChange(lookedAt(array_slice($turns, -5))))->toBeNull();
});

it('blames for a change that is gone what touched the element nearest to the moment', function () {
    $seen = lookedAt([[100.0, 'made'], [900.0, 'none']])->takenBy([['by' => 'a.js, line 1', 'at' => 20.0], ['by' => 'b.js, line 2', 'at' => 870.0], ['by' => 'c.js, line 3', 'at' => 2000.0]]);
    expect(judgedChange($seen)?->evidence['by'] ?? null)->toBe('b.js, line 2');
});

it('takes it for a note where the control does not show the element on that screen either', function () {
    expect(judgedChange(lookedAt([[5.0, 'made']], ['visible' => false, 'display' => 'none'], seenInControl: false))?->severity->value)->toBe('note')
        ->and(judgedChange(lookedAt([[5.0, 'made']], ['visible' => false, 'display' => 'none']))?->severity->value)->toBe('blocker');
});

it('names the rule that wins over a change, and what to write instead', function () {
    $of = static fn (string $value, bool $important, string $selector, bool $ours): Declaration => new Declaration('color', $value, $important, $selector, [0, 1, 2], 'author', null, 1, 'https://shop.test/shop.css', 27, $ours);
    $finding = judgedChange(lookedAt([[5.0, 'made']], [], outranked: [['element' => '#offer', 'loser' => $of('teal', false, '.lead', true), 'winner' => $of('grey', true, 'main p.lead', false)]]), ['kind' => 'sheet', 'value' => '.lead { color: teal }']);
    expect($finding?->code)->toBe(CheckCode::ChangeOutranked)
        ->and($finding?->words)->toContain('color of #offer is “grey”, not “teal”')
        ->and($finding?->cause)->toContain('main p.lead in https://shop.test/shop.css, line 27 (specificity 0,1,2, !important) wins over .lead')
        ->and($finding?->next)->toContain('!important')
        ->and($finding?->evidence['winner']['line'] ?? null)->toBe(27);
});

it('tells from the frames whether anything of the control was painted', function (array $frames, ?float $ms) {
    expect(FlickerJudge::painted($frames, 0, 5000.0)['ms'] ?? null)->toBe($ms);
})->with([
    'made before the page was shown' => [[[50.0, false, [['other', [0, 0, 9, 9]]]], [90.0, false, [['made', null]]], [95.0, true, [['made', [0, 0, 9, 9]]]]], null],
    'shown before' => [[[50.0, true, [['other', [0, 0, 9, 9]]]], [130.5, true, [['made', [0, 0, 9, 9]]]]], 80.5],
    'outside of the window' => [[[50.0, true, [['other', null]]], [130.0, true, [['made', null]]]], null],
    'taken back later' => [[[50.0, true, [['made', [0, 0, 9, 9]]]], [900.0, true, [['other', [0, 0, 9, 9]]]]], null],
    'never made' => [[[50.0, true, [['other', [0, 0, 9, 9]]]]], null],
]);

it('tells of the change before which the control was seen longest, and where', function () {
    $frames = [[50.0, true, [['other', [0, 0, 9, 9]], ['other', [5, 6, 7, 8]]]], [70.0, true, [['made', null], ['other', [5, 6, 7, 8]]]], [95.5, true, [['made', null], ['made', null]]]];
    $longest = FlickerJudge::longest($frames, 2, 5000.0);
    expect($longest)->toBe(['change' => 2, 'from' => 50.0, 'ms' => 45.5, 'box' => [5, 6, 7, 8]])
        ->and(FlickerJudge::finding($longest, false, 'short', Screen::Mobile)->evidence['box'])->toBe('7 × 8 at 5, 6')
        ->and(FlickerJudge::longest([[50.0, true, [['made', null]]]], 1, 100.0))->toBeNull();
});

it('tells errors that only a variant has, whatever numbers are in them', function () {
    $line = static fn (string $text, string $kind = 'exception', string $level = 'error'): array => ['level' => $level, 'text' => $text, 'url' => 'https://shop.test/app.js', 'line' => 7, 'kind' => $kind];
    $thrown = ErrorJudge::thrown([$line('x is null'), $line('took 120 ms', 'console'), $line('hint', 'console', 'warning'), $line('404', 'network')]);
    $fresh = array_diff_key($thrown, ErrorJudge::thrown([$line('took 99 ms', 'console')]));
    expect($fresh)->toBe(['x is null' => 'x is null (https://shop.test/app.js, line 7)'])
        ->and(ErrorJudge::finding($fresh, true, 'short', Screen::Mobile)?->severity->value)->toBe('blocker')
        ->and(ErrorJudge::finding($fresh, false, 'short', Screen::Mobile)?->severity->value)->toBe('warning')
        ->and(ErrorJudge::finding([], true, 'short', Screen::Mobile))->toBeNull();
});

/** @return list<Finding> */
function goalArrived(array $goal, array $events, ?float $seconds = 0.4, ?float $worth = null, string $way = ''): array
{
    $goal = Goal::read(['key' => 'bought', 'name' => 'Bought', 'role' => 'primary', ...$goal]);
    $log = array_map(static fn (array $one, int $i): LogEvent => new LogEvent("e{$i}", 'v', new DateTimeImmutable('2026-03-02T10:00:00Z +'.($one[2] ?? $i * 40).' milliseconds'), $one[0], 'https://shop.test/basket', $one[1] ?? [], null, '', null), $events, array_keys($events));

    return GoalJudge::judge($goal, HitFinder::find($goal, $log, Sessions::of($log)), $log, $seconds, 'short', null, $worth, $way);
}

it('holds a goal to arriving once, in time and with its value', function (array $goal, array $events, ?CheckCode $code, string $said, ?float $seconds = 0.4, ?float $worth = null) {
    $found = goalArrived($goal, $events, $seconds, $worth);
    expect($found[0]->code ?? null)->toBe($code)->and(count($found))->toBe($code === null ? 0 : 1)
        ->and($found === [] ? '' : "{$found[0]->words} {$found[0]->cause}")->toContain($said);
})->with([
    'once' => [['kind' => 'order', 'currency' => 'EUR'], [['page_view'], ['order', ['value' => 12.5, 'currency' => 'EUR']]], null, ''],
    'never' => [['kind' => 'order', 'currency' => 'EUR'], [['page_view'], ['click']], CheckCode::GoalMissing, 'No event order was sent; what came last was click'],
    'nothing at all' => [['kind' => 'order', 'currency' => 'EUR'], [], CheckCode::GoalMissing, 'Nothing at all arrived'],
    'twice' => [['kind' => 'order', 'currency' => 'EUR'], [['order', ['value' => 1]], ['order', ['value' => 1]]], CheckCode::GoalTwice, 'sent order twice, 40 ms apart'],
    'with a comma' => [['kind' => 'order', 'currency' => 'EUR'], [['order', ['value' => '12,50']]], CheckCode::GoalValue, 'the text “12,50”. A comma is no decimal point'],
    'without a value' => [['kind' => 'event', 'event' => 'booked', 'value' => ['prop' => 'price'], 'currency' => 'EUR'], [['booked']], CheckCode::GoalValue, 'The event has no price'],
    'of no currency' => [['kind' => 'event', 'event' => 'booked', 'value' => ['prop' => 'price']], [['booked', ['price' => 3]]], CheckCode::GoalValue, 'of no currency'],
    'in another currency' => [['kind' => 'order', 'currency' => 'EUR'], [['order', ['value' => 3, 'currency' => 'usd']]], CheckCode::GoalValue, 'in USD, not in EUR'],
    'worth something else' => [['kind' => 'order', 'currency' => 'EUR'], [['order', ['value' => 3, 'currency' => 'EUR']]], CheckCode::GoalValue, 'worth 3, not 4', 0.4, 4.0],
    'late' => [['kind' => 'order', 'currency' => 'EUR'], [['order', ['value' => 3, 'currency' => 'EUR']]], CheckCode::GoalLate, '7.2 s after the last step', 7.2],
]);

it('tells a goal that is lost when the page is left at once', function () {
    expect(goalArrived(['kind' => 'event', 'event' => 'booked'], [['page_view']], null, null, 'when the page is left at once')[0]->code)->toBe(CheckCode::GoalLost);
});

/** @param array<string, mixed> $own */
function redirectSeen(array $own = []): RedirectSeen
{
    $of = ['start' => 'https://shop.test/a?x=1#part', 'target' => '/b', 'landed' => 'https://shop.test/b?x=1#part', 'hops' => ['https://shop.test/a?x=1#part', 'https://shop.test/b?x=1#part'], 'documents' => [['url' => 'https://shop.test/b?x=1', 'status' => 200, 'location' => null]], 'trouble' => null, 'exposures' => 1, 'referrer' => 'https://shop.test/', 'before' => 'https://shop.test/', 'back' => 'https://shop.test/', 'cost' => 0.2, ...$own];

    return new RedirectSeen(...$of);
}

it('holds a redirect to leading where it should, with everything, once, and with a way back', function (RedirectSeen $seen, array $codes, string $said) {
    $found = RedirectJudge::judge($seen, 'other');
    expect(array_map(static fn (Finding $one): string => $one->code->value, $found))->toBe($codes)
        ->and(implode(' ', array_map(static fn (Finding $one): string => "{$one->words} {$one->cause}", $found)))->toContain($said);
})->with([
    'sound' => [fn () => redirectSeen(), [], ''],
    'a slash at the end' => [fn () => redirectSeen(['landed' => 'https://shop.test/b/?x=1#part', 'documents' => [['url' => 'https://shop.test/b?x=1', 'status' => 301, 'location' => '/b/?x=1'], ['url' => 'https://shop.test/b/?x=1', 'status' => 200, 'location' => null]]]), [], ''],
    'loses the query' => [fn () => redirectSeen(['landed' => 'https://shop.test/b#part', 'documents' => [['url' => 'https://shop.test/b?x=1', 'status' => 302, 'location' => '/b']]]), ['redirect.address-lost'], 'The server answers /b?x=1 with 302 to /b, without what was brought along'],
    'loses the fragment' => [fn () => redirectSeen(['landed' => 'https://shop.test/b?x=1']), ['redirect.address-lost'], 'loses the fragment #part'],
    'goes round' => [fn () => redirectSeen(['landed' => 'https://shop.test/a', 'hops' => ['https://shop.test/a?x=1', 'https://shop.test/a'], 'documents' => [['url' => 'https://shop.test/b?x=1', 'status' => 302, 'location' => '/a']]]), ['redirect.loop'], 'The server answers /b?x=1 with 302 to /a'],
    'gives up' => [fn () => redirectSeen(['trouble' => 'net::ERR_TOO_MANY_REDIRECTS']), ['redirect.loop'], 'the browser gave up'],
    'stays' => [fn () => redirectSeen(['landed' => 'https://shop.test/a?x=1#part', 'hops' => ['https://shop.test/a?x=1#part'], 'exposures' => 0, 'back' => 'https://shop.test/']), ['redirect.elsewhere', 'exposure.not-received'], 'visitors stay on the original'],
    'is not there' => [fn () => redirectSeen(['documents' => [['url' => 'https://shop.test/b?x=1', 'status' => 404, 'location' => null]]]), ['redirect.elsewhere'], 'The server answers 404'],
    'forgets the referrer' => [fn () => redirectSeen(['referrer' => '']), ['redirect.referrer-lost'], ''],
    'without the snippet' => [fn () => redirectSeen(['trouble' => '', 'referrer' => null]), ['redirect.target-without-snippet'], 'nothing that visitors do there is counted'],
    'traps' => [fn () => redirectSeen(['back' => 'https://shop.test/b?x=1']), ['redirect.way-back'], 'leads to /b'],
    'an address that the target sets itself' => [fn () => redirectSeen(['target' => '/b?x=2', 'landed' => 'https://shop.test/b?x=2#part']), [], ''],
]);

it('makes somebody of the audience, and for each condition somebody with whom it fails', function (array $audience, ?array $enters, int $others) {
    $rule = RuleReader::read($audience);
    $pages = PageRule::read(['fact' => 'url.path', 'op' => 'is', 'value' => '/loan']);
    $guest = Cast::enters('https://shop.test/loan', $pages, $rule);
    expect($guest?->made)->toEqual($enters);
    $refused = Cast::refused('https://shop.test/loan', $pages, $rule);
    expect(count($refused))->toBe($others);
    foreach ($refused as $one) {
        expect($rule->matches($one))->toBeFalse()->and($pages->matches($one->url))->toBeTrue();
        // Exactly one fact is another than with whom enters.
        expect(count(array_diff_assoc(array_map(serialize(...), $one->made), array_map(serialize(...), $guest->made))))->toBe(1);
    }
})->with([
    [['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], ['device' => 'mobile'], 1],
    [['all' => [['fact' => 'visitor.returning', 'op' => 'is', 'value' => true], ['fact' => 'language', 'op' => 'starts', 'value' => 'pt']]], ['visitor.returning' => true, 'language' => 'ptx'], 2],
    [['all' => [['fact' => 'cookie.member', 'op' => 'exists'], ['not' => ['fact' => 'url.query.utm_source', 'op' => 'is', 'value' => 'mail']]]], ['cookie.member' => 'pellix', 'url.query.utm_source' => 'pellix-other'], 2],
    [['any' => [['fact' => 'referrer.host', 'op' => 'ends', 'value' => 'search.test'], ['fact' => 'data.basket.total', 'op' => 'gte', 'value' => 50]]], ['referrer.host' => 'xsearch.test'], 1],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/elsewhere'], null, 0],
]);

it('says of itself on each screen what a device of that size says', function () {
    $desktop = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
    foreach (Screen::cases() as $screen) {
        expect(Agent::device($screen->agent($desktop)))->toBe($screen->value)->and(Agent::browser($screen->agent($desktop)))->toBe('chrome');
    }
});

it('takes for unexpected only what was neither changed nor moved along', function () {
    $control = [['main', [0, 0, 800, 600]], ['#a', [0, 0, 100, 20]], ['#b', [0, 100, 100, 20]], ['#c', [400, 400, 100, 20]]];
    $variant = [['main', [0, 0, 800, 640]], ['#a', [0, 0, 100, 60]], ['#b', [0, 140, 100, 20]], ['#c', [400, 400, 100, 20]]];
    $found = Pictures::unexpected([[0, 0, 112, 64], [0, 96, 112, 64], [400, 400, 96, 16]], [[0, 0, 100, 60]], $control, $variant);
    expect($found)->toBe([['box' => [400, 400, 96, 16], 'element' => '#c']]);
});

it('takes the median of differences, not the difference of medians', function () {
    $pair = new Paired([10.0, 30.0, 12.0], [5.0, 5.0, 9.0]);
    expect([$pair->median, $pair->least, $pair->most])->toBe([5.0, 3.0, 25.0]);
});

it('blames the snippet for what is there with it each time, and never without it', function (array $with, array $without, array $different, array $codes) {
    $load = static fn (array $own = []): PageLoad => new PageLoad($own['errors'] ?? [], $own['failed'] ?? [], $own['shifted'] ?? 0.0, $own['largest'] ?? 300.0, 20.0);
    $found = InstallationJudge::judge('https://shop.test/a', array_map($load, $with), array_map($load, $without), $different);
    expect(array_map(static fn (Finding $one): string => $one->code->value, $found))->toBe($codes);
})->with([
    'nothing' => [[[], []], [[], []], [], []],
    'an error of its own' => [[['errors' => ['a', 'b']], ['errors' => ['b']]], [[], []], [], ['snippet.errors']],
    'an error that comes and goes' => [[['errors' => ['a']], []], [[], []], [], []],
    'an error of the page' => [[['errors' => ['a']], ['errors' => ['a']]], [[], ['errors' => ['a']]], [], []],
    'a picture that is missing' => [[['failed' => ['https://shop.test/x.png']], ['failed' => ['https://shop.test/x.png']]], [[], []], [], ['snippet.not-loaded']],
    'other looks' => [[[], []], [[], []], [['box' => [0, 0, 16, 16], 'element' => 'header']], ['snippet.changes-looks']],
    'moves' => [[['shifted' => 0.2], ['shifted' => 0.3]], [[], ['shifted' => 0.1]], [], ['snippet.changes-looks']],
    'slower each time' => [[['largest' => 900.0], ['largest' => 700.0]], [[], []], [], ['snippet.slows']],
    'slower once' => [[['largest' => 900.0], ['largest' => 310.0]], [[], []], [], []],
]);

// Source: R's binom.test(120, 200, 0.5) gives p = 0.005685.
it('tests a quick split exactly', function () {
    expect(QuickSplit::test([120, 80], [50.0, 50.0])['p'])->toEqualWithDelta(0.005685, 5e-7)
        ->and(QuickSplit::test([66, 67, 67], [1.0, 1.0, 1.0]))->toMatchArray(['test' => 'exact multinomial test']);
});

it('writes requests as a HAR that the inspection opens', function () {
    $request = ['url' => 'https://shop.test/a?b=c%20d', 'method' => 'GET', 'began' => 10.0, 'wall' => 1772445600.25, 'headers' => ['Accept' => '*/*'], 'body' => null, 'status' => 200, 'mime' => 'text/html', 'response' => ['Content-Type' => 'text/html'], 'bytes' => 300, 'ended' => 10.12, 'failed' => null, 'content' => '<!DOCTYPE html><title>A</title>'];
    $har = HarLog::of('https://shop.test/a', [$request, ['url' => 'https://pellix.test/c', 'method' => 'POST', 'body' => '{}', 'status' => null, 'failed' => 'net::ERR_FAILED', 'ended' => null, 'mime' => '', 'wall' => 1772445601.0] + $request], 'Chromium');
    $read = Capture::parse((string) json_encode($har));
    expect($har['log']['version'])->toBe('1.2')
        ->and($har['log']['entries'][0]['startedDateTime'])->toBe('2026-03-02T10:00:00.250Z')
        ->and($har['log']['entries'][0]['request']['queryString'])->toBe([['name' => 'b', 'value' => 'c d']])
        ->and(count($read->exchanges))->toBe(2);
});

it('puts every code at a link of the chain', function () {
    expect(array_unique(array_map(static fn (CheckCode $code): string => $code->link()->value, CheckCode::cases())))->toHaveCount(count(Link::cases()));
});

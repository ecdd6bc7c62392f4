<?php

use Eris\Generator;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\NearMiss;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Totals;
use Pellix\Core\Happenings\ElementSelector;
use Pellix\Core\Rules\RuleReader;

/** An event so many minutes after noon. */
function happened(float $minute, string $name = 'page_view', string $path = '/', array $props = [], string $visitor = 'v'): LogEvent
{
    static $id = 0;

    return new LogEvent('e'.++$id, $visitor, (new DateTimeImmutable('2026-03-02T12:00:00Z'))->modify(sprintf('%+d seconds', round(60 * $minute))), $name, "https://a.test{$path}", $props);
}

/** What the events of any number of visitors come to. */
function counted(array $goal, array $events): array
{
    $goal = Goal::read(['key' => 'g', ...$goal]);
    $visitors = $hits = [];
    foreach ($events as $event) {
        $visitors[$event->visitor][] = $event;
    }
    foreach ($visitors as $own) {
        $own = LogEvent::inOrder($own);
        array_push($hits, ...HitFinder::find($goal, $own, Sessions::of($own)));
    }

    return array_intersect_key(Totals::of($goal, $hits), ['hits' => 0, 'visitors' => 0, 'sessions' => 0, 'value' => 0]);
}

function done(array $change = []): array
{
    return ['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], ...$change];
}

it('counts once a visitor, once a session, or every time', function (string $count, int $hits) {
    $events = [happened(0, path: '/done'), happened(5, path: '/done'), happened(60, path: '/done'), happened(0, path: '/done', visitor: 'w'), happened(1, visitor: 'x')];
    expect(counted(done(['count' => $count]), $events))->toBe(['hits' => $hits, 'visitors' => 2, 'sessions' => 3, 'value' => null]);
})->with([['visitor', 2], ['session', 3], ['every', 4]]);

it('ends a session after thirty idle minutes, and not at midnight', function () {
    $numbers = fn (float ...$minutes): array => Sessions::of(array_map(happened(...), $minutes));
    expect($numbers(0, 29.9, 59.8))->toBe([1, 1, 1])->and($numbers(0, 30))->toBe([1, 2])->and($numbers(0, 31, 60))->toBe([1, 2, 2])
        // From ten minutes before midnight to ten minutes after it.
        ->and($numbers(710, 730))->toBe([1, 1])->and(Sessions::of([], 30))->toBe([]);
});

it('puts late and repeated events where they belong', function () {
    $events = [happened(50, path: '/done'), happened(0, path: '/done'), happened(25)];
    // The view at 25 minutes, which came last, joins the other two to one session.
    expect(counted(done(['count' => 'session']), $events))->toMatchArray(['hits' => 1, 'sessions' => 1])
        ->and(counted(done(['count' => 'session']), array_slice($events, 0, 2)))->toMatchArray(['hits' => 2, 'sessions' => 2])
        ->and(counted(done(), [$events[0], $events[0], $events[0]]))->toMatchArray(['hits' => 1]);
});

it('matches pages by path, with slash, capitals and escapes as the rule says', function (array $rule, array $paths) {
    foreach ($paths as $path => $hits) {
        expect(counted(['kind' => 'page', 'pages' => $rule], [happened(0, path: (string) $path)])['hits'])->toBe($hits, "{$path}");
    }
})->with([
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], ['/done' => 1, '/done/' => 0, '/Done' => 0, '/done?x=1#y' => 1, '/d%6Fne' => 1]],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/done', 'ignore' => ['slash']], ['/done' => 1, '/done/' => 1, '/done//' => 1, '/DONE' => 0]],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/done/', 'ignore' => ['slash', 'case']], ['/done' => 1, '/DONE/' => 1]],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/', 'ignore' => ['slash']], ['' => 1, '/' => 1, '/x' => 0]],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/café'], ['/café' => 1, '/caf%c3%a9' => 1, '/caf%C3%A9' => 1, '/cafe' => 0]],
    [['fact' => 'url.path', 'op' => 'matches', 'value' => '^/order/\d+/done$'], ['/order/17/done' => 1, '/order/x/done' => 0, '/order/17/done/' => 0]],
    [['all' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], ['fact' => 'url.query.from', 'op' => 'is', 'value' => 'mail']]], ['/done?from=mail' => 1, '/done' => 0]],
]);

it('knows every kind of goal', function (array $goal, array $events, int $hits, ?float $value = null) {
    expect(counted($goal, $events))->toMatchArray(['hits' => $hits, 'value' => $value]);
})->with(fn () => [
    'a click' => [['kind' => 'click', 'selector' => 'form#f .next'], [happened(0, 'click', props: ['path' => 'html>body>form#f>p>button.next.big>i']), happened(1, 'click', props: ['path' => 'html>body>button.next'])], 1],
    'any click' => [['kind' => 'any_click', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/a']], [happened(0, 'click', '/a'), happened(0, 'click', '/b')], 1],
    'a form' => [['kind' => 'form', 'selector' => '#loan'], [happened(0, 'form_submit', props: ['path' => 'html>body>form#loan']), happened(0, 'form_submit', props: ['path' => 'html>body>form#other'])], 1],
    'an event with a condition' => [['kind' => 'event', 'event' => 'joined', 'when' => ['fact' => 'event.props.months', 'op' => 'gte', 'value' => 12]], [happened(0, 'joined', props: ['months' => 12]), happened(0, 'joined', props: ['months' => 6]), happened(0, 'joined')], 1],
    'a fixed value' => [['kind' => 'event', 'event' => 'joined', 'value' => ['fixed' => 2.5]], [happened(0, 'joined'), happened(1, 'joined')], 2, 5.0],
    'the value of a property' => [['kind' => 'event', 'event' => 'joined', 'value' => ['prop' => 'fee.net']], [happened(0, 'joined', props: ['fee' => ['net' => 0.1]]), happened(1, 'joined', props: ['fee' => ['net' => '0.2']]), happened(2, 'joined', props: ['fee' => ['net' => 'x']])], 3, 0.3],
    'time that is told again and again, once a view' => [['kind' => 'engaged', 'seconds' => 30], [happened(0, 'engaged', props: ['seconds' => 10, 'view' => 'a']), happened(1, 'engaged', props: ['seconds' => 30, 'view' => 'a']), happened(2, 'engaged', props: ['seconds' => 60, 'view' => 'a']), happened(3, 'engaged', props: ['seconds' => 31, 'view' => 'b'])], 2],
    'a part of a page that was seen' => [['kind' => 'seen', 'selector' => 'main > [data-part="offer"]', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/a']], [happened(0, 'area_seen', '/a', ['area' => 'main > [data-part="offer"]']), happened(1, 'area_seen', '/a', ['area' => '#other']), happened(2, 'area_seen', '/b', ['area' => 'main > [data-part="offer"]'])], 1],
    'scrolling' => [['kind' => 'scroll', 'percent' => 50], [happened(0, 'scroll', props: ['percent' => 25]), happened(0, 'scroll', props: ['percent' => 75])], 1],
]);

it('adds up orders: each number once, each currency for itself', function () {
    $order = fn (float $minute, ?string $id, float $value, string $currency = 'EUR', string $visitor = 'v'): LogEvent => happened($minute, 'order', '/thanks', ['value' => $value, 'currency' => $currency] + ($id === null ? [] : ['order_id' => $id]), $visitor);
    $events = [$order(0, 'A', 10), $order(1, 'A', 10), $order(2, 'B', 5, 'USD'), $order(3, null, 1), $order(4, null, 1), $order(-1, 'C', 7, visitor: 'w'), $order(9, 'C', 7, visitor: 'v')];
    expect(counted(['kind' => 'order', 'currency' => 'EUR'], $events))->toBe(['hits' => 5, 'visitors' => 2, 'sessions' => 2, 'value' => 19.0])
        ->and(counted(['kind' => 'order'], $events)['value'])->toBeNull()
        ->and(counted(['kind' => 'order'], [$order(0, 'A', 0.1), $order(0, 'B', 0.2)])['value'])->toBe(0.3)
        ->and(counted(['kind' => 'order', 'currency' => 'GBP'], $events)['value'])->toBe(0.0);
    // Once a visitor, at the value of the first.
    expect(counted(['kind' => 'order', 'currency' => 'EUR', 'count' => 'visitor'], $events))->toMatchArray(['hits' => 2, 'value' => 17.0]);
});

it('follows steps in their order, within their time', function (array $paths, int $hits, array $change = []) {
    $page = fn (string $path, bool $optional = false): array => ['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path], 'optional' => $optional];
    $goal = ['kind' => 'steps', 'steps' => [$page('/a'), $page('/b', true), $page('/c')], ...$change];
    $events = array_map(fn (string $path, int $i): LogEvent => happened($i, path: $path), $paths, array_keys($paths));
    expect(counted($goal, $events)['hits'])->toBe($hits);
})->with([
    [['/a', '/b', '/c'], 1], [['/a', '/c'], 1], [['/c', '/a'], 0], [['/b', '/a', '/c'], 1], [['/a', '/x', '/b', '/x', '/c'], 1], [['/a', '/a', '/c', '/c'], 1],
    [['/a', '/c', '/a', '/b', '/c'], 2], [['/b', '/c'], 0], [['/a', '/b'], 0],
    // Within two minutes: the second beginning is in time, the first is not.
    [['/a', '/x', '/x', '/c'], 0, ['within' => 120]], [['/a', '/x', '/a', '/x', '/c'], 1, ['within' => 120]], [['/a', '/x', '/c'], 1, ['within' => 120]],
]);

it('names the events that made a hit', function () {
    $events = [happened(0, path: '/a'), happened(1, path: '/x'), happened(2, path: '/c')];
    $page = fn (string $path): array => ['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path]];
    $hit = HitFinder::find(Goal::read(['key' => 'g', 'kind' => 'steps', 'steps' => [$page('/a'), $page('/c')]]), $events, [1, 1, 1])[0];
    expect($hit->events)->toBe([$events[0]->id, $events[2]->id])->and($hit->time)->toEqual($events[2]->time);
});

it('counts the same in whatever order events arrive', function () {
    $names = ['page_view', 'order', 'click'];
    $this->limitTo(60)->forAll(Generator\seq(Generator\tuple(Generator\choose(0, 200), Generator\elements($names), Generator\elements(['/done', '/a']))), Generator\choose(1, 1000))->then(function (array $drawn, int $seed) {
        $events = array_map(fn (array $one): LogEvent => happened($one[0], $one[1], $one[2], ['order_id' => "o{$one[0]}", 'value' => 1]), $drawn);
        $shuffled = $events;
        mt_srand($seed);
        shuffle($shuffled);
        foreach ([done(['count' => 'session']), ['kind' => 'order'], done(['count' => 'every'])] as $goal) {
            expect(counted($goal, $shuffled))->toBe(counted($goal, $events));
        }
    });
});

it('matches selectors as closest() does', function (string $selector, bool $matches) {
    expect(ElementSelector::read($selector)->matches('html>body.dark>main>form#loan.steps.wide>p>button.next>i'))->toBe($matches);
})->with([
    ['button', true], ['.next', true], ['#loan', true], ['i', true], ['button > i', true], ['form > i', false], ['form i', true], ['form.steps.wide .next', true], ['form.narrow', false],
    ['*', true], ['main > form > p > button', true], ['a, button.next', true], ['BODY .next', true], ['.next .next', false], ['button p', false],
]);

it('refuses selectors that no record can tell', function (string $selector) {
    expect(complaint(fn () => ElementSelector::read($selector)))->toStartWith('selector: A selector of element names');
})->with(['', 'a:hover', '[href]', 'a + b', '> a', 'a,', '#', 'a::before', 'a >']);

it('tells why an address narrowly misses', function (array $rule, string $url, ?string $why) {
    expect(NearMiss::why(RuleReader::read($rule), "https://a.test{$url}"))->toBe($why);
})->with([
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/join/done', null], [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/join/done/', 'only the slash at the end differs'],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/Join/done', 'only capitals differ'], [['fact' => 'url.path', 'op' => 'is', 'value' => '/join'], '/join/done', 'its path goes on after that: /done'],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/join', 'its path ends before that'], [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/join/dome', 'its path is spelled /join/dome'],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done'], '/donate', null],
    [['all' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], ['fact' => 'url.query.id', 'op' => 'exists']]], '/done', 'it has no query parameter id'],
]);

it('says what is wrong with a goal', function (array $json, string $complaint) {
    expect(complaint(fn () => Goal::read(['key' => 'g', ...$json])))->toStartWith($complaint);
})->with([
    [['kind' => 'page'], 'pages: Say which page'], [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => 'https://a.test/done']], 'pages.value: A path begins'],
    [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'matches', 'value' => '(a*)*']], 'pages.value: The part “(a*)*”'], [['kind' => 'wish'], 'kind: One of page'],
    [['kind' => 'click'], 'selector: A text'], [['kind' => 'event'], 'event: The name'], [['kind' => 'engaged', 'seconds' => 0], 'seconds: A whole number'], [['kind' => 'scroll', 'percent' => 101], 'percent: A whole number'],
    [done(['count' => 'often']), 'count: One of'], [done(['value' => ['fixed' => 'x']]), 'value.fixed: A number'], [done(['value' => []]), 'value: A value is'], [done(['currency' => 'euro']), 'currency: A currency'],
    [['kind' => 'steps', 'steps' => [done()]], 'steps: A sequence has at least two'], [['kind' => 'steps', 'steps' => [done(), ['kind' => 'steps']]], 'steps.1.kind: One of'],
    [['kind' => 'steps', 'steps' => [done(), done()], 'within' => 0.5], 'within: A whole number'], [['key' => 'A', ...done()], 'key: A goal key'],
]);

it('writes a goal as it was read', function (array $goal) {
    $read = Goal::read(['key' => 'g', 'name' => 'G', 'role' => 'secondary', 'count' => 'visitor', ...$goal]);
    expect(Goal::read($read->toArray()))->toEqual($read)->and($read->toArray())->toMatchArray($goal);
})->with([
    [done()], [['kind' => 'click', 'selector' => '#a']], [['kind' => 'event', 'event' => 'x', 'value' => ['prop' => 'fee'], 'currency' => 'EUR']], [['kind' => 'order', 'currency' => 'EUR']],
    [['kind' => 'engaged', 'seconds' => 5, 'value' => ['fixed' => 2.0]]], [['kind' => 'steps', 'steps' => [done(), ['kind' => 'order', 'optional' => true], ['kind' => 'any_click']], 'within' => 60]],
]);

/** @return list<LogEvent> */
function logged(string $text, bool $csv = false): array
{
    $stream = fopen('php://memory', 'w+');
    fwrite($stream, $text);
    rewind($stream);

    $rows = iterator_to_array(LogReader::rows($stream, $csv));

    return array_map(LogReader::event(...), array_keys($rows), array_values($rows));
}

it('reads the same events from NDJSON and from CSV', function () {
    $json = logged('{"id":"1","visitor":"v","time":"2026-03-02T12:00:00Z","name":"order","url":"https://a.test/","user":null,"props":{"value":2.5,"note":"a \"b\", c","order_id":"007","vip":true}}'."\n\n");
    // RFC 4180, 2: CRLF, a quoted field with a comma, doubled quotes.
    $csv = logged("id,visitor,time,name,url,props.value,props.note,props.order_id,props.vip,extra\r\n1,v,2026-03-02T12:00:00Z,order,https://a.test/,2.5,\"a \"\"b\"\", c\",007,true,x\r\n", true);
    expect($csv)->toEqual($json);
    $exposure = logged("id,visitor,time,name,url,experiment,variant\n1,v,2026-03-02T12:00:00Z,exposure,https://a.test/,7,b\n", true)[0];
    expect($exposure->props)->toBe(['experiment' => '7', 'variant' => 'b']);
});

it('names the line of what cannot be read', function (string $text, bool $csv, string $complaint) {
    expect(complaint(fn () => logged($text, $csv)))->toStartWith($complaint);
})->with([
    ["{\"id\":\"1\",\"visitor\":\"v\",\"time\":\"2026-03-02T12:00:00Z\",\"name\":\"x\",\"url\":\"u\"}\n{", false, '2: This line is not JSON'],
    ['{"id":"1","visitor":"v","time":"yesterday","name":"x","url":"u"}', false, '1.time: A time in RFC 3339'], ['[]x', false, '1: This line is not JSON'], ['[1]', false, '1: An event is a JSON object'],
    ["id,visitor,time,name\n", true, '1: The header row has no column "url"'], ["id,visitor,time,name,url\na,b\n", true, '2: The row has 2 cells'],
    ["id,visitor,time,name,url\n1,,2026-03-02T12:00:00Z,x,u\n", true, '2.visitor: A text'],
]);

/**
 * All ways through the steps, tried one by one: whether some choice of events, in their order and within the time, takes
 * every step that is not optional and ends with this event. Slow, and plainly right.
 *
 * @param list<string> $path     one letter for the page of each event, a minute apart
 * @param list<string> $steps
 * @param list<bool>   $optional
 */
function canComplete(array $path, array $steps, array $optional, ?int $minutes): bool
{
    $required = array_keys(array_filter($optional, fn (bool $one): bool => ! $one));
    $lastRequired = end($required);
    $try = function (int $event, int $step, ?int $begin) use (&$try, $path, $steps, $optional, $minutes, $lastRequired): bool {
        if ($step > $lastRequired) {
            return true;
        }
        if ($event === count($path)) {
            return false;
        }
        // The event is left out; or it takes the step; or the step is left out.
        if ($try($event + 1, $step, $begin)) {
            return true;
        }
        $start = $begin ?? $event;
        if ($path[$event] === $steps[$step] && ($minutes === null || $event - $start <= $minutes) && $try($event + 1, $step + 1, $start)) {
            return true;
        }

        return $optional[$step] && $try($event, $step + 1, $begin);
    };

    return $try(0, 0, null);
}

it('finds a sequence wherever there is one, and only there', function () {
    $letters = ['a', 'b', 'c', 'x'];
    $found = 0;
    $this->limitTo(400)->forAll(
        Generator\seq(Generator\elements($letters)),
        Generator\tuple(Generator\elements($letters), Generator\elements($letters), Generator\elements($letters)),
        Generator\tuple(Generator\bool(), Generator\bool(), Generator\bool()),
        Generator\elements([null, 1, 2, 4]),
    )->then(function (array $path, array $steps, array $optional, ?int $minutes) use (&$found) {
        $path = array_slice($path, 0, 9);
        if (count(array_filter($optional)) > 1) {
            $optional = [false, $optional[1], false];
        }
        $goal = Goal::read(['key' => 'g', 'kind' => 'steps', ...($minutes === null ? [] : ['within' => 60 * $minutes]), 'steps' => array_map(
            fn (string $letter, bool $may): array => ['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => "/{$letter}"], 'optional' => $may],
            $steps,
            $optional,
        )]);
        $events = array_map(fn (string $letter, int $i): LogEvent => happened($i, path: "/{$letter}"), $path, array_keys($path));
        $hits = HitFinder::find($goal, $events, array_fill(0, count($events), 1));
        $first = null;
        for ($n = 1; $n <= count($path) && $first === null; $n++) {
            $first = canComplete(array_slice($path, 0, $n), $steps, $optional, $minutes) ? $n - 1 : null;
        }
        $found += $first === null ? 0 : 1;
        // The first hit comes with the first event that can complete it.
        $ids = array_map(fn (LogEvent $one): string => $one->id, $events);
        expect($hits === [] ? null : array_search($hits[0]->events[array_key_last($hits[0]->events)], $ids, true))->toBe($first, implode('', $path).' '.implode('', $steps).' '.json_encode([$optional, $minutes]));
    });
    expect($found)->toBeGreaterThan(40);
});

it('adds up by count mode as a plain tally does', function () {
    $hit = fn (array $one): Hit => new Hit("v{$one[0]}", new DateTimeImmutable("@{$one[1]}"), new DateTimeImmutable("@{$one[2]}"), '/', ['e'], $one[3] / 4, ['EUR', 'USD', null][$one[4]], $one[5] === 0 ? null : "o{$one[5]}");
    $this->limitTo(200)->forAll(Generator\seq(Generator\tuple(Generator\choose(1, 3), Generator\choose(1, 2), Generator\choose(0, 50), Generator\choose(0, 40), Generator\choose(0, 2), Generator\choose(0, 5))))->then(function (array $drawn) use ($hit) {
        $hits = array_map($hit, $drawn);
        usort($hits, fn (Hit $a, Hit $b): int => $a->time <=> $b->time);
        foreach (['visitor', 'session', 'every'] as $mode) {
            $seen = $orders = $sum = [];
            $count = 0;
            foreach ($hits as $one) {
                if ($one->order !== null && isset($orders[$one->order])) {
                    continue;
                }
                $orders[$one->order ?? ''] = true;
                $key = ['visitor' => $one->visitor, 'session' => "{$one->visitor} {$one->session->getTimestamp()}", 'every' => (string) count($seen)][$mode];
                if (! isset($seen[$key])) {
                    $seen[$key] = true;
                    $count++;
                    $sum[$one->currency ?? ''] = ($sum[$one->currency ?? ''] ?? 0) + $one->value;
                }
            }
            $totals = Totals::of(Goal::read(['key' => 'g', 'kind' => 'order', 'count' => $mode]), $hits);
            expect($totals['hits'])->toBe($count);
            foreach ($sum as $currency => $value) {
                // Quarters are exact in binary, and in millionths.
                expect($totals['values'][$currency])->toEqual($value);
            }
        }
    });
});

<?php

use Pellix\Core\Counting\LogGoals;
use Pellix\Core\Counting\LogTotals;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\Lines;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Sum;
use Pellix\Core\Goals\Totals;

/** @return resource */
function inMemory(string $text)
{
    $stream = fopen('php://memory', 'w+');
    fwrite($stream, $text);
    rewind($stream);

    return $stream;
}

/** @return list<iterable<int, mixed>> a log of NDJSON as two processes read it */
function inTwo(string $text): array
{
    $file = tempnam(sys_get_temp_dir(), 'log');
    file_put_contents($file, $text);
    register_shutdown_function(static fn () => @unlink($file));
    $pieces = LogReader::pieces($file, null, 1);
    expect($pieces)->toHaveCount(2);

    return $pieces;
}

/** @param list<array<string, mixed>> $goals */
function countLog(string $text, array $goals, ?bool $csv = null, ?string $explain = null): LogTotals
{
    return counting([LogReader::rows(inMemory($text), $csv)], $goals, $explain);
}

/** @param list<array<string, mixed>> $goals */
function counting(array $pieces, array $goals, ?string $explain = null): LogTotals
{
    return LogGoals::count($pieces, array_map(fn (array $goal): Goal => Goal::read($goal), $goals), 30, fn () => null, $explain);
}

const LOG_GOALS = [
    ['key' => 'shelf', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/shelf/3'], 'count' => 'visitor'],
    ['key' => 'shelves', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/shelf'], 'count' => 'session', 'value' => ['fixed' => 0.1], 'currency' => 'EUR'],
    ['key' => 'orders', 'kind' => 'order'],
    ['key' => 'dear', 'kind' => 'order', 'when' => ['fact' => 'event.props.value', 'op' => 'gte', 'value' => 500], 'count' => 'session'],
    ['key' => 'buy', 'kind' => 'click', 'selector' => 'main > a.buy'], ['key' => 'stay', 'kind' => 'engaged', 'seconds' => 10],
    ['key' => 'way', 'kind' => 'steps', 'within' => 7200, 'steps' => [['pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/shelf/3']], ['kind' => 'any_click', 'optional' => true], ['kind' => 'order']]],
];

it('counts as the rules do that are held in memory, whatever the log', function () {
    mt_srand(5);
    for ($run = 0; $run < 25; $run++) {
        $lines = [];
        for ($i = 0; $i < 250; $i++) {
            $name = ['page_view', 'page_view', 'click', 'order', 'engaged', 'exposure', 'other'][mt_rand(0, 6)];
            $lines[] = (string) json_encode([
                'id' => mt_rand(0, 15) ? "e{$i}" : 'e'.mt_rand(0, $i), 'visitor' => ['007', '7', 'v', "a\tb", 'é'][mt_rand(0, 4)].(mt_rand(0, 2) ?: ''),
                'time' => gmdate('Y-m-d\TH:i:s', 1772300000 + mt_rand(0, 90_000)).['Z', '.5Z', '.123456Z', '+00:00'][mt_rand(0, 3)], 'name' => $name, 'url' => 'https://a.test/shelf/'.mt_rand(1, 4),
                'user' => mt_rand(0, 1) ? null : 'u', 'agent' => mt_rand(0, 1) ? null : 'x',
                'props' => (object) match ($name) {
                    'order' => ['order_id' => ['', '7', '007', 'A'.mt_rand(0, 40)][mt_rand(0, 3)], 'value' => [mt_rand(1, 99999) / 100, '12.5', '12,5', 1e13, null][mt_rand(0, 4)], 'currency' => ['EUR', 'CHF', null][mt_rand(0, 2)]],
                    'click' => ['path' => mt_rand(0, 1) ? 'html>body>main>a.buy>b' : 'html>body>a.buy'],
                    'engaged' => ['seconds' => mt_rand(1, 30), 'view' => 'w'.mt_rand(0, 2)],
                    default => [],
                },
            ]);
        }
        $text = implode("\n", $lines);
        $visitors = $ids = [];
        foreach (LogReader::rows(inMemory($text), false) as $number => $row) {
            $event = LogReader::event($number, $row);
            if (! isset($ids["#{$event->id}"])) {
                $visitors["#{$event->visitor}"][] = $event;
            }
            $ids["#{$event->id}"] = true;
        }
        $counted = countLog($text, LOG_GOALS);
        $run % 5 === 0 && expect(counting(inTwo($text), LOG_GOALS))->toEqual($counted);
        expect([$counted->events, $counted->repeated, $counted->visitors])->toBe([250, 250 - count($ids), count($visitors)]);
        foreach (LOG_GOALS as $i => $json) {
            $goal = Goal::read($json);
            $hits = [];
            foreach ($visitors as $events) {
                $events = LogEvent::inOrder($events);
                array_push($hits, ...HitFinder::find($goal, $events, Sessions::of($events)));
            }
            $found = $counted->goals()[$i];
            unset($found['key'], $found['variants']);
            expect($found)->toBe(Totals::of($goal, $hits), $goal->key);
        }
    }
});

it('counts for a variant what came at or after the first exposure, and nobody who met two', function () {
    $line = fn (string $id, string $visitor, string $time, string $name, array $props = []): string => (string) json_encode(['id' => $id, 'visitor' => $visitor, 'time' => "2026-03-02T{$time}Z", 'name' => $name, 'url' => 'https://a.test/', 'props' => (object) $props]);
    $text = implode("\n", [
        $line('1', 'v', '10:00:00', 'order', ['value' => 1]), $line('2', 'v', '10:00:01', 'exposure', ['experiment' => 'x', 'variant' => 'a']), $line('3', 'v', '10:00:01', 'order', ['value' => 2]),
        $line('4', 'w', '10:00:00', 'exposure', ['experiment' => 'x', 'variant' => 'a']), $line('5', 'w', '10:00:01', 'exposure', ['experiment' => 'x', 'variant' => 'b']), $line('6', 'w', '10:00:02', 'order', ['value' => 4]),
        $line('7', 'u', '10:00:00', 'exposure', ['experiment' => 'x', 'variant' => 'b']),
    ]);
    $goal = countLog($text, [['key' => 'o', 'kind' => 'order']])->goals()[0];
    expect($goal['hits'])->toBe(3)->and(array_map(fn (array $one): array => [$one['variant'], $one['exposed'], $one['hits'], $one['value']], $goal['variants']))->toBe([['a', 1, 1, 2.0], ['b', 1, 0, 0.0]]);
});

it('loses nobody by many beginnings', function (int $times, ?int $within) {
    $at = fn (int $minute, string $path): string => (string) json_encode(['id' => "e{$minute}", 'visitor' => 'v', 'time' => gmdate('Y-m-d\TH:i:s\Z', 1772300000 + 60 * $minute), 'name' => 'page_view', 'url' => "https://a.test{$path}"]);
    $page = fn (string $path): array => ['pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path]];
    $goal = ['key' => 's', 'kind' => 'steps', 'steps' => [$page('/bike'), $page('/basket'), $page('/thanks')], ...($within === null ? [] : ['within' => $within])];
    $lines = [$at(0, '/bike'), $at(1, '/basket'), ...array_map(fn (int $i): string => $at($i, '/bike'), range(2, $times)), $at($times + 1, '/thanks')];
    expect(countLog(implode("\n", $lines), [$goal])->goals()[0]['hits'])->toBe($within === null || $within >= 60 * ($times + 1) ? 1 : 0);
    // A late beginning is followed too, where the early ones come too late.
    $late = [...array_map(fn (int $i): string => $at($i, '/bike'), range(0, $times)), $at($times + 1, '/basket'), $at($times + 2, '/thanks')];
    expect(countLog(implode("\n", $late), [$goal])->goals()[0]['hits'])->toBe($within !== null && $within < 120 ? 0 : 1);
})->with([[60, null], [60, 36000], [60, 120], [500, null], [500, 60]]);

it('says why each event did or did not count', function () {
    $line = fn (string $id, string $name, string $path, array $props = []): string => (string) json_encode(['id' => $id, 'visitor' => '7', 'time' => "2026-03-02T10:00:0{$id}Z", 'name' => $name, 'url' => "https://a.test{$path}", 'props' => (object) $props]);
    $lines = countLog(implode("\n", [$line('1', 'page_view', '/shelf/3'), $line('2', 'page_view', '/shelf/3'), $line('3', 'page_view', '/else'), $line('4', 'order', '/thanks', ['order_id' => 'A', 'value' => 'x'])]), LOG_GOALS, explain: '7')->explained;
    expect($lines)->toContain(
        '2026-03-02T10:00:02.000Z page_view https://a.test/shelf/3 (2)',
        '  shelf: is hit 1.',
        '  shelf: is hit 2, which does not count: once a visitor, and there was one before.',
        '  shelf: no: url.path is "/shelf/3", and is "/else".',
        '  orders: is hit 1 without a value that can be read in value; order A counts once, where it was told of first.',
        '  way: is step 1 of hit 1.',
        '  buy: no: event.name is "click", and is "order".',
        '  dear: no: event.props.value gte 500, and is "x".',
    );
});

it('warns of what may be other than it looks', function () {
    $order = fn (string $id, mixed $value): string => '{"id":"'.$id.'","visitor":"v","time":"2026-03-02T10:00:00Z","name":"order","url":"https://a.test/","props":{"value":'.$value.'}}';
    $totals = countLog(implode("\n", [$order('1', '1e999'), $order('2', '"12,50"'), $order('3', '"12.50"')]), [['key' => 'o', 'kind' => 'order'], ['key' => 'c', 'kind' => 'any_click']]);
    expect($totals->warnings())->toBe(['o: 2 of 3 hits have no value that can be read.', 'c: the log has no event named "click".'])->and($totals->goals()[0])->toMatchArray(['value' => 12.5, 'unreadable' => 2]);
});

it('adds decimals exactly', function (array $values, float $sum) {
    $total = new Sum();
    array_walk($values, fn (float $value) => $total->add($value));
    expect($total->toFloat())->toBe($sum);
})->with([
    [[0.1, 0.2], 0.3], [array_fill(0, 10, 0.1), 1.0], [[1e13], 1e13], [array_fill(0, 1000, 9e12), 9e15], [[1e28, 0.01, -1e28], 0.01], [[0.0000001, 0.0000002], 0.0000003], [array_fill(0, 5000, 999999.999999), 4999999999.995], [[-2.5, 1.0], -1.5], [[], 0.0],
]);

it('reads CSV as spreadsheets write it', function (string $text, int $hits) {
    expect(countLog($text, [['key' => 'p', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/é']], ['key' => 'o', 'kind' => 'order', 'value' => ['prop' => 'n']]])->goals()[0]['hits'])->toBe($hits);
})->with(fn () => [
    'semicolons' => ["id;visitor;time;name;url\n1;v;2026-03-02T10:00:00Z;page_view;https://a.test/é\n", 1],
    'tabs' => ["id\tvisitor\ttime\tname\turl\n1\tv\t2026-03-02T10:00:00Z\tpage_view\thttps://a.test/é", 1],
    'a mark before a quoted header' => ["\xef\xbb\xbf\"id\",\"visitor\",\"time\",\"name\",\"url\"\r\n\"1\",v,2026-03-02T10:00:00Z,page_view,https://a.test/é\r\n", 1],
    'carriage returns' => ["id,visitor,time,name,url\r1,v,2026-03-02T10:00:00Z,page_view,https://a.test/é\r2,v,2026-03-02T10:00:00Z,page_view,https://a.test/é", 2],
    'UTF-16' => ["\xff\xfe".mb_convert_encoding("id,visitor,time,name,url\n1,v,2026-03-02T10:00:00Z,page_view,https://a.test/é\n", 'UTF-16LE', 'UTF-8'), 1],
    'gzip' => [gzencode("id,visitor,time,name,url\n1,v,2026-03-02T10:00:00Z,page_view,https://a.test/é\n"), 1],
    'two of gzip in a row' => [gzencode("id,visitor,time,name,url\n").gzencode("1,v,2026-03-02T10:00:00Z,page_view,https://a.test/é\n"), 1],
    'a cell of two lines' => ["id,visitor,time,name,url,props.x\n1,v,2026-03-02T10:00:00Z,page_view,https://a.test/é,\"a\n\"\"b\"\"\"\n\n2,v,2026-03-02T10:00:00Z,page_view,https://a.test/é,", 2],
]);

it('names the line of what is no event', function (string $text, ?bool $csv, string $field, string $message) {
    try {
        countLog($text, [['key' => 'o', 'kind' => 'order']], $csv);
        $found = null;
    } catch (InvalidLog $e) {
        $found = $e;
    }
    expect($found?->field)->toBe($field)->and($found?->getMessage())->toContain($message);
})->with([
    ["id,visitor,time,name,url\n1,v,2026-03-02T10:00:00Z,x,\"a\nb\"\n2,v,2026-03-02T10:00:00Z,x,\"never\nclosed\n", null, '4', 'never closed'],
    ["id,visitor,time,name,url,id\n", null, '1', 'the column "id" more than once'], ["id,visitor,time,name\n", null, '1', 'no column "url"'],
    ["id,visitor,time,name,url\n1,v\n", null, '2', 'The row has 2 cells'], ["\n\nid,visitor,time,name,url\n\xff,v,2026-03-02T10:00:00Z,x,y\n", null, '4', 'not UTF-8'],
    ["{}\n", null, '1.id', 'A text of 1 to 200'], ['{"id":"1","visitor":"v","time":"2026-02-30T00:00:00Z","name":"x","url":"y"}', null, '1.time', 'RFC 3339'], ["{\n", false, '1', 'not JSON'],
    [str_repeat('[', 100), false, '1', 'not JSON'], ["\xff{}", false, '1', 'not JSON'], [str_repeat('x', Lines::LONGEST + 1), false, '1', 'more than 2 MB'],
    [substr(gzencode(str_repeat("{}\n", 10)), 0, -9), false, '1.id', 'A text of 1 to 200'], ["\x1f\x8bnonsense", false, '1', 'no gzip'], ['{"id":"1","visitor":"v","time":"2026-03-02T10:00:00Z","name":"x","url":"y","props":[1]}', false, '1.props', 'JSON object'],
]);

it('reads a log in two pieces as in one, and names the same line', function () {
    $line = fn (int $i): string => (string) json_encode(['id' => "e{$i}", 'visitor' => 'v'.$i % 3, 'time' => '2026-03-02T00:00:00Z', 'name' => 'page_view', 'url' => 'https://a.test/']);
    $lines = array_map($line, range(1, 60));
    $goal = [['key' => 'p', 'pages' => ['all' => []]]];
    foreach ([null, 0, 17, 28, 29, 30, 31, 59] as $bad) {
        foreach (['{"id":', '{"id":"x"}', '["x"]'] as $damage) {
            $all = $bad === null ? $lines : array_replace($lines, [$bad => $damage]);
            if ($bad === 0 && $damage[0] !== '{') {
                continue;
            }
            // Blank lines count as lines, and carriage returns before line feeds are none.
            $text = "\xef\xbb\xbf\r\n".implode("\r\n\n", $all)."\n";
            $said = [];
            foreach ([[LogReader::rows(inMemory($text), null)], inTwo($text)] as $pieces) {
                try {
                    $said[] = json_encode(counting($pieces, $goal, 'v1'));
                } catch (InvalidLog $e) {
                    $said[] = "{$e->field}: {$e->getMessage()}";
                }
            }
            expect($said[1])->toBe($said[0]);
        }
    }
    // Of two that are wrong, the first.
    $two = array_replace($lines, [10 => '{"id":', 50 => '{"id":']);
    expect(fn () => counting(inTwo(implode("\n", $two)), $goal))->toThrow(InvalidLog::class)
        ->and(fn () => counting(inTwo(implode("\n", array_replace($lines, [40 => '{"id":']))), $goal))->toThrow(function (InvalidLog $e): void {
            expect($e->field)->toBe('41');
        });
});

it('reads in one piece what cannot be parted: a line without an end, packed, UTF-16, CSV', function (string $text, ?bool $csv) {
    $file = tempnam(sys_get_temp_dir(), 'log');
    file_put_contents($file, $text);
    $pieces = LogReader::pieces($file, $csv, 1);
    unlink($file);
    expect($pieces)->toHaveCount(1)->and(iterator_to_array($pieces[0]))->not->toBe([]);
})->with([
    ['{"id":"1"}', null], [gzencode(str_repeat("{\"id\":\"1\"}\n", 9)), null], ["\xff\xfe".mb_convert_encoding(str_repeat("{\"id\":\"1\"}\n", 9), 'UTF-16LE'), null],
    ["id,visitor,time,name,url\n".str_repeat("1,v,t,n,u\n", 5), null], ["{}\n".'{"id":"'.str_repeat('x', 90).'"}', null],
]);

it('adds sums of two parts exactly', function () {
    [$a, $b] = [new Sum(), new Sum()];
    $a->add(0.1);
    $b->add(0.2);
    $b->add(1e29);
    $a->plus($b);
    $a->add(-1e29);
    expect($a->toFloat())->toBe(0.3);
});

it('takes a number of any length in CSV for one', function () {
    $text = "id,visitor,time,name,url,props.value,props.order_id\n1,v,2026-03-02T10:00:00Z,order,https://a.test/,1234567890123456,0012345678901234567\n";
    expect(countLog($text, [['key' => 'o', 'kind' => 'order', 'when' => ['fact' => 'event.props.value', 'op' => 'gte', 'value' => 1]]])->goals()[0]['value'])->toBe(1234567890123456.0);
});

it('counts the first ten thousand events of one who sends more, with little memory', function () {
    $file = tmpfile();
    for ($i = 0; $i < 60_000; $i++) {
        fwrite($file, '{"id":"e'.$i.'","visitor":"v","time":"'.gmdate('Y-m-d\TH:i:s\Z', 1772300000 + (7 * $i) % 60_000).'","name":"page_view","url":"https://a.test/shelf/3","props":{"x":"'.str_repeat('x', 300)."\"}}\n");
    }
    rewind($file);
    $before = memory_get_usage();
    memory_reset_peak_usage();
    $totals = LogGoals::count([LogReader::rows($file, false)], [Goal::read(['key' => 'p', 'pages' => ['all' => []]])], 30, fn () => null);
    expect($totals->goals()[0]['hits'])->toBe(10_000)->and($totals->warnings())->toBe(['visitor v: 50000 events beyond the first 10000 are not counted.'])->and(memory_get_peak_usage() - $before)->toBeLessThan(64_000_000);
});

it('names members of a goal that mean nothing', function () {
    expect(Goal::unknownMembers(['key' => 'a', 'kind' => 'order', 'cuont' => 'visitor', 'value' => ['prop' => 'x', 'props' => 1]]))->toBe(['value.props', 'cuont'])
        ->and(Goal::unknownMembers(['key' => 'a', 'kind' => 'steps', 'steps' => [['kind' => 'order', 'optinal' => true], ['kind' => 'order']]]))->toBe(['steps.0.optinal'])
        ->and(Goal::unknownMembers(LOG_GOALS[6]))->toBe([]);
});

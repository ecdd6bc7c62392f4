<?php

use Demo\Library;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Wiring\Har\Capture;
use Pellix\Core\Wiring\Har\CaptureInspector;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Snippet;

/** One entry with the members that HAR 1.2 requires. */
function entry(string $url, array $response = [], array $request = [], string $at = '2026-03-02T10:00:00.000Z'): array
{
    return [
        'startedDateTime' => $at, 'time' => 5, 'cache' => (object) [], 'timings' => ['send' => 1, 'wait' => 3, 'receive' => 1],
        'request' => ['method' => 'GET', 'url' => $url, 'httpVersion' => 'HTTP/1.1', 'cookies' => [], 'headers' => [], 'queryString' => [], 'headersSize' => -1, 'bodySize' => 0, ...$request],
        'response' => ['status' => 200, 'statusText' => 'OK', 'httpVersion' => 'HTTP/1.1', 'cookies' => [], 'headers' => [], 'content' => ['size' => 0, 'mimeType' => 'text/javascript'], 'redirectURL' => '', 'headersSize' => -1, 'bodySize' => 0, ...$response],
    ];
}

function document(?string $html, array $response = []): array
{
    return entry('http://a.test/', ['content' => ['size' => 1, 'mimeType' => 'text/html; charset=utf-8', ...($html === null ? [] : ['text' => $html])], ...$response]);
}

function runtimeFile(array $response = [], string $key = Library::SITE_KEY): array
{
    return entry("https://p.test/s/{$key}.js", $response, [], '2026-03-02T10:00:00.100Z');
}

function sent(array $events, array $response = [], string $at = '2026-03-02T10:00:00.400Z'): array
{
    $body = json_encode(['pellix' => 1, 'site' => Library::SITE_KEY, 'events' => $events]);

    return entry('https://p.test/c', ['content' => ['size' => 1, 'mimeType' => 'application/json', 'text' => '{"accepted":1,"repeated":0,"rejected":[]}'], ...$response], ['method' => 'POST', 'postData' => ['mimeType' => 'text/plain', 'text' => $body]], $at);
}

function captured(array $entries, array $expected = []): array
{
    $har = ['log' => ['version' => '1.2', 'creator' => ['name' => 'x', 'version' => '1'], 'entries' => $entries]];
    [$report, $calls] = CaptureInspector::inspect(Capture::parse(implode("\n{\"startedDateTime\"", explode('{"startedDateTime"', (string) json_encode($har)))), Expectation::read(Library::SITE_KEY, $expected));

    return [array_column($report->findings, 'code'), $calls, $report->findings];
}

beforeEach(fn () => $this->page = '<head>'.Snippet::loader(Library::SITE_KEY, 'https://p.test').'</head>');

it('finds nothing wrong where everything fired, and lists what did, in order', function () {
    [$codes, $calls] = captured([
        sent([['id' => '1', 'name' => 'page_view']]), document($this->page), runtimeFile(),
        entry('https://c.test/counter.gif?what=gift&n=1', [], [], '2026-03-02T10:00:01Z'),
    ], ['tags' => [['key' => 'counter', 'contains' => 'counter.gif']]]);
    expect($codes)->toBe([])->and(array_column($calls, 'what'))->toBe(['runtime', 'beacon', 'counter'])->and($calls[1]['events'])->toBe(['page_view'])
        ->and((array) $calls[2]['parameters'])->toBe(['what' => 'gift', 'n' => '1'])->and($calls[1]['at'])->toBe('2026-03-02T10:00:00.400Z');
});

it('finds what did not happen as it should', function (callable $entries, array $codes, array $expected = []) {
    expect(captured($entries($this->page), $expected)[0])->toBe($codes);
})->with([
    'no request at all' => [fn () => [], ['page.unreachable']],
    'no snippet on the page' => [fn () => [document('<p>x')], ['snippet.missing']],
    'no text of the page, and no runtime' => [fn () => [document(null)], ['snippet.missing']],
    'a snippet that never loaded its file' => [fn ($page) => [document($page)], ['runtime.missing']],
    'a file that was blocked' => [fn ($page) => [document($page), runtimeFile(['status' => 0])], ['runtime.failed']],
    'a file that is not there' => [fn ($page) => [document($page), runtimeFile(['status' => 404])], ['runtime.failed']],
    'another site\'s file' => [fn () => [document(null), runtimeFile([], 'plx_someoneelse00001')], ['snippet.wrong-key']],
    'no beacon' => [fn ($page) => [document($page), runtimeFile()], ['beacon.missing']],
    'a beacon that was refused' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']], ['status' => 413])], ['beacon.refused']],
    'a beacon that was blocked' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']], ['status' => 0])], ['beacon.refused']],
    'an event that was rejected' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']], ['content' => ['mimeType' => 'application/json', 'text' => '{"rejected":[{"reason":"event.url","message":"No."}]}']])], ['beacon.rejected']],
    'an event that was sent twice' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]), sent([['id' => '1', 'name' => 'x']])], ['beacon.repeated']],
    'a policy of the answer' => [fn ($page) => [document($page, ['headers' => [['name' => 'Content-Security-Policy', 'value' => "default-src 'self'"]]])], ['snippet.csp-blocked']],
    'a page that is gone' => [fn ($page) => [document($page, ['status' => 410])], ['page.unreachable']],
    'a tag that fired twice' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]), entry('https://c.test/c.gif'), entry('https://c.test/c.gif')], ['tag.duplicate'], ['tags' => [['key' => 'c', 'contains' => 'c.gif']]]],
    'a tag that fired too early' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]), entry('https://c.test/c.gif'), entry('https://c.test/d.gif', [], [], '2026-03-02T10:00:09Z')], ['tag.order'], ['tags' => [['key' => 'd', 'contains' => 'd.gif'], ['key' => 'c', 'contains' => 'c.gif', 'after' => 'd']]]],
    'a tag that is not in the HTML and did not fire' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']])], ['tag.missing'], ['tags' => [['key' => 'c', 'contains' => 'c.gif']]]],
]);

it('keeps the pages of one capture apart', function () {
    $second = ['pageref' => 'page_2', 'startedDateTime' => '2026-03-02T10:00:05Z'];
    [$codes] = captured([document($this->page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]), [...document('<p>x'), ...$second]]);
    expect($codes)->toBe(['snippet.missing']);
});

it('judges captures as they come', function (callable $entries, array $codes, array $expected = []) {
    expect(captured($entries($this->page), $expected)[0])->toBe($codes);
})->with([
    'a page that the browser had' => [fn ($page) => [document($page, ['status' => 304]), runtimeFile(), sent([['id' => '1', 'name' => 'x']])], []],
    'no page' => [fn () => [runtimeFile(), sent([['id' => '1', 'name' => 'x']])], ['page.unreachable']],
    'a tag that was sent on, and asked for beforehand' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]),
        entry('https://c.test/c.gif', [], ['method' => 'OPTIONS']), entry('https://c.test/c.gif', ['status' => 302, 'redirectURL' => '/to/c.gif']), entry('https://c.test/to/c.gif')], [], ['tags' => [['key' => 'c', 'contains' => 'c.gif']]]],
    'a beacon that was sent on' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']], ['status' => 302, 'redirectURL' => 'https://p.test/d']), entry('https://p.test/d')], ['beacon.refused']],
    'a beacon that was sent on with what it carries' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']], ['status' => 307, 'redirectURL' => 'https://p.test/c']), sent([['id' => '1', 'name' => 'x']], [], '2026-03-02T10:00:01Z')], []],
    'a file that leads to nothing' => [fn ($page) => [document($page), entry('https://p.test/s/plx_larkhollowdemo01.js', ['status' => 301, 'redirectURL' => 'https://q.test/gone']), entry('https://q.test/gone', ['status' => 404])], ['runtime.failed']],
    'a file that leads to another' => [fn ($page) => [document($page), entry('https://p.test/s/plx_larkhollowdemo01.js', ['status' => 301, 'redirectURL' => 'https://q.test/x.js']), entry('https://q.test/x.js'), sent([['id' => '1', 'name' => 'x']])], []],
    'a beacon that got through at the second try' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x'], ['id' => '2', 'name' => 'x']], ['status' => 0]), sent([['id' => '2', 'name' => 'x'], ['id' => '1', 'name' => 'x']], [], '2026-03-02T10:00:05Z')], []],
    'a beacon of which a part got through' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x'], ['id' => '2', 'name' => 'x']], ['status' => 503]), sent([['id' => '2', 'name' => 'x']], [], '2026-03-02T10:00:05Z')], ['beacon.refused']],
    'a beacon whose content was not recorded' => [fn ($page) => [document($page), runtimeFile(), entry('https://p.test/c', ['status' => 200], ['method' => 'POST'], '2026-03-02T10:00:05Z')], []],
    'a tag that stands on the page and made no request' => [fn ($page) => [document("{$page}<script src=/c.js></script>"), runtimeFile(), sent([['id' => '1', 'name' => 'x']])], ['tag.missing'], ['tags' => [['key' => 'c', 'contains' => 'c.js']]]],
    'a tag that stands on the page and waits for consent' => [fn ($page) => [document("{$page}<script type=text/plain src=/c.js></script>"), runtimeFile(), sent([['id' => '1', 'name' => 'x']])], [], ['tags' => [['key' => 'c', 'contains' => 'c.js']]]],
    'a picture that stands in its own address' => [fn ($page) => [document($page), runtimeFile(), sent([['id' => '1', 'name' => 'x']]), entry('data:image/png;base64,'.str_repeat('A', 2_000_000))], []],
    'two pages, which entries do not name' => [fn ($page) => [
        [...document($page), 'request' => ['method' => 'GET', 'url' => 'http://a.test/', 'headers' => [['name' => 'Sec-Fetch-Dest', 'value' => 'document']]]], runtimeFile(), sent([['id' => '1', 'name' => 'x']]), entry('https://c.test/c.gif'),
        [...document($page), 'startedDateTime' => '2026-03-02T10:01:00Z', 'request' => ['method' => 'GET', 'url' => 'http://a.test/b', 'headers' => [['name' => 'Sec-Fetch-Dest', 'value' => 'document']]]],
        [...runtimeFile(), 'startedDateTime' => '2026-03-02T10:01:01Z'], sent([['id' => '2', 'name' => 'x']], [], '2026-03-02T10:01:02Z'), entry('https://c.test/c.gif', [], [], '2026-03-02T10:01:03Z'),
    ], [], ['tags' => [['key' => 'c', 'contains' => 'c.gif']]]],
]);

it('reads captures with a byte order mark, and with an empty version or none', function (string $head) {
    expect(Capture::parse("{$head},\"entries\":[]}}")->exchanges)->toBe([]);
})->with(["\xef\xbb\xbf{\"log\":{\"version\":\"1.2\"", '{"log":{"version":""', "{ \"x\": [[{}]],\n\"log\":\n{\"a\":[]"]);

it('refuses what is no JSON, or too deep, before it costs memory', function (string $text, string $message) {
    memory_reset_peak_usage();
    expect(fn () => Capture::parse($text))->toThrow(InvalidJson::class, $message)->and(memory_get_peak_usage())->toBeLessThan(memory_get_usage() + 60_000_000);
})->with([
    [str_repeat('[', 100_000), 'deep'], ['{"log":{"entries":['.str_repeat('{"a":', 100_000), 'deep'], ['{"x":'.str_repeat('[', 100_000), 'deep'], ['{"log":', 'ends within a value'],
    ['{"log":{"entries":[}', 'a value was expected'], ["{\n\"log\" 7", 'line 2: ":" after a name'], ['{"log":{"version":"1.2"x', 'line 1: "," or "}"'], ['{"log":{"entries":["x', 'within a text'],
    ['{"log":{"entries":[{"a":01}]}}', 'Syntax error'], ['{"log":{"entries":[]}} x', 'the end of the file'], ['', 'ends within a value'], ['{log:1}', 'double quotes'],
]);

it('reads a long capture an entry at a time', function () {
    $file = tmpfile();
    fwrite($file, '{"log":{"version":"1.2","entries":[');
    $entry = json_encode(entry('https://a.test/x', ['content' => ['mimeType' => 'image/png', 'text' => str_repeat('x\\"{[', 20_000)]]));
    for ($i = 0; $i < 300; $i++) {
        fwrite($file, ($i > 0 ? ",\n" : '').$entry);
    }
    fwrite($file, ']}}');
    $size = ftell($file);
    rewind($file);
    $before = memory_get_usage();
    memory_reset_peak_usage();
    $exchanges = Capture::read($file)->exchanges;
    expect($exchanges)->toHaveCount(300)->and(end($exchanges)->line)->toBe(300)->and($size)->toBeGreaterThan(40_000_000)->and(memory_get_peak_usage() - $before)->toBeLessThan(8_000_000);
});

it('reads a body in base64, and points at the entry', function () {
    $encoded = entry('http://a.test/', ['content' => ['size' => 1, 'mimeType' => 'text/html', 'encoding' => 'base64', 'text' => base64_encode($this->page)]]);
    [$codes, , $findings] = captured([$encoded, runtimeFile(['status' => 500])]);
    expect($codes)->toBe(['runtime.failed'])->and($findings[0]->line)->toBe(3)->and($findings[0]->excerpt)->toBe('GET https://p.test/s/plx_larkhollowdemo01.js → 500');
});

it('says what is no HAR 1.2 capture', function (mixed $json, string $complaint) {
    expect(complaint(fn () => Capture::parse((string) json_encode($json))))->toStartWith($complaint);
})->with([
    [[], 'log.entries: The list of requests'], [['log' => 7], 'log: The log'], [['log' => ['version' => 2, 'entries' => []]], 'log.version: The version'], [['log' => ['version' => '1.2']], 'log.entries: The list of requests'],
    [['log' => ['entries' => ['a' => 1]]], 'log.entries: The entries are a list'],
    [['log' => ['version' => '1.2', 'entries' => [['request' => []]]]], 'log.entries.0.response: A response'],
    [['log' => ['version' => '1.2', 'entries' => [['request' => ['method' => 'GET', 'url' => 'x'], 'response' => ['status' => 200]]]]], 'log.entries.0.startedDateTime: An entry needs'],
    [['log' => ['version' => '1.2', 'entries' => [['startedDateTime' => '2026-03-02T10:00:00Z', 'request' => ['method' => 'GET', 'url' => 7], 'response' => ['status' => 200]]]]], 'log.entries.0.request.url: A text'],
]);

<?php

use App\Fetching\PageFetcher;
use App\Inventory\AddressBlocks;
use App\Models\Finding;
use App\Models\Page;
use App\Scanning\Scanner;
use GuzzleHttp\Client;
use GuzzleHttp\Exception\ConnectException;
use GuzzleHttp\Psr7\Request;
use GuzzleHttp\Psr7\Response;
use Illuminate\Support\Facades\DB;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->site->update(['hosts' => ['shop.localhost', 'desk.shop.localhost']]);
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    /** @var array<string, Response|callable> what each address answers; anything else is 404 */
    $this->web = [];
    $this->asked = [];
    app()->bind(PageFetcher::class, fn () => new PageFetcher(new Client(['handler' => function (Request $request) {
        $this->asked[] = (string) $request->getUri();
        $answer = $this->web[(string) $request->getUri()] ?? new Response(404, ['Content-Type' => 'text/html'], 'none');

        return $answer instanceof Throwable ? GuzzleHttp\Promise\Create::rejectionFor($answer) : GuzzleHttp\Promise\Create::promiseFor(clone $answer);
    }]), true));
    $this->html = fn (string $body): Response => new Response(200, ['Content-Type' => 'text/html'], $body);
    $this->snippet = "<head>{$this->site->snippet()}</head>";
    $this->states = fn (): array => array_column(($this->call)('GET', '/pages')->assertOk()->json('pages'), 'state', 'url');
});

it('takes typed addresses and paths, and says of each other line why not', function () {
    ($this->call)('POST', '/pages', ['addresses' => "/join\n\nhttps://SHOP.localhost/a/../b#part\nhttps://elsewhere.test/\n/join\nmailto:x@y.test"])->assertCreated()
        ->assertJsonPath('added', 2)->assertJsonPath('refused.0.line', 4)->assertJsonPath('refused.1.line', 6);
    expect(array_keys(($this->states)()))->toBe(['https://shop.localhost/b', 'https://shop.localhost/join'])
        ->and(($this->call)('POST', '/pages', ['addresses' => ' '])->assertStatus(422)->json('errors.addresses.0'))->toContain('one a line');
});

it('finds pages by sitemap and links, politely', function () {
    $at = 'https://shop.localhost';
    $this->web = [
        "{$at}/robots.txt" => new Response(200, [], "User-agent: *\nDisallow: /private\nSitemap: {$at}/maps.xml\n"),
        "{$at}/maps.xml" => new Response(200, [], '<sitemapindex><sitemap><loc>'.$at.'/map.xml.gz</loc></sitemap></sitemapindex>'),
        "{$at}/map.xml.gz" => new Response(200, [], (string) gzencode("<urlset><url><loc>{$at}/listed</loc></url><url><loc>https://elsewhere.test/x</loc></url></urlset>")),
        "{$at}/" => ($this->html)("{$this->snippet}<a href='/one?from=home#x'>1</a><a href='/private/two'>2</a><a href='https://elsewhere.test/'>e</a>"),
        "{$at}/one" => ($this->html)("{$this->snippet}<a href='/deeper'>d</a>"),
        "{$at}/deeper" => ($this->html)("{$this->snippet}<a href='/too-deep'>t</a>"),
        "{$at}/listed" => ($this->html)('<p>No snippet'),
    ];
    $scan = ($this->call)('POST', '/scans', ['kind' => 'find', 'depth' => 2, 'most' => 50])->assertCreated();
    expect($scan->json('state'))->toBe('done');
    expect(($this->states)())->toEqual(["{$at}/listed" => 'broken', "{$at}/" => 'holds', "{$at}/deeper" => 'holds', "{$at}/one" => 'holds'])
        ->and($this->asked)->not->toContain("{$at}/private/two")->not->toContain('https://elsewhere.test/')->not->toContain("{$at}/too-deep")
        ->and(implode(' ', $scan->json('notes')))->toContain('robots.txt keeps it')->toContain("none of this site's")->toContain('sitemap.xml: the server answered 404');
});

it('keeps to its limit of pages, and crawls nothing where robots.txt is down', function () {
    $at = 'https://shop.localhost';
    $links = implode('', array_map(fn (int $i): string => "<a href='/p{$i}'>x</a>", range(1, 30)));
    $this->web = ["{$at}/" => ($this->html)($this->snippet.$links)];
    $scan = ($this->call)('POST', '/scans', ['kind' => 'find', 'most' => 5])->assertCreated();
    expect($this->site->pages()->count())->toBe(5)->and(implode($scan->json('notes')))->toContain('The limit of 5 pages');
    $this->site->pages()->delete();
    $this->web["{$at}/robots.txt"] = new Response(503);
    $this->asked = [];
    ($this->call)('POST', '/scans', ['kind' => 'find'])->assertCreated();
    expect($this->asked)->not->toContain("{$at}/");
});

it('raises a finding when a page loses its snippet, and mends it when it is back', function () {
    ($this->call)('POST', '/pages', ['addresses' => '/join'])->assertCreated();
    $scan = fn () => ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertCreated()->assertJsonPath('done', 1);
    $this->web = ['https://shop.localhost/join' => ($this->html)($this->snippet)];
    $scan();
    expect(($this->states)())->toBe(['https://shop.localhost/join' => 'holds'])->and(Finding::query()->count())->toBe(0);
    $this->web['https://shop.localhost/join'] = new ConnectException('refused', new Request('GET', '/'));
    $scan();
    expect(Finding::query()->count())->toBe(0, 'a server that is down says nothing about the code');
    $this->web['https://shop.localhost/join'] = ($this->html)($this->snippet);
    $scan();
    $this->web['https://shop.localhost/join'] = ($this->html)('<p>Redesigned');
    $scan();
    $scan();
    $finding = ($this->call)('GET', '/findings')->assertOk()->assertJsonCount(1)->assertJsonPath('0.code', 'coverage.lost-snippet')->json('0');
    expect($finding)->toMatchArray(['severity' => 'blocker', 'state' => 'open', 'link' => 'snippet']);
    ($this->call)('PUT', "/findings/{$finding['id']}", ['state' => 'explained'])->assertStatus(422)->assertJsonValidationErrors('note');
    $this->web['https://shop.localhost/join'] = ($this->html)($this->snippet);
    $scan();
    ($this->call)('GET', '/findings')->assertJsonPath('0.state', 'mended');
    $page = Page::query()->firstOrFail();
    // Five different findings one after the other; the scan that found the same as the one before made no new row.
    expect(($this->call)('GET', "/pages/{$page->id}")->assertOk()->json('inspections.*.verdict'))->toBe(['sound', 'broken', 'sound', 'broken', 'sound']);
});

it('sorts pages into groups, and expects of each what its group says', function () {
    $groups = [
        ['name' => 'Evening', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/evening'], 'snippet' => true, 'guard' => null, 'unlinked' => true, 'tags' => []],
        ['name' => 'Pay', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/pay'], 'snippet' => false, 'guard' => null, 'unlinked' => false, 'tags' => [['key' => 'counter', 'contains' => 'c.js']]],
    ];
    ($this->call)('PUT', '/page-groups', ['groups' => $groups])->assertOk();
    ($this->call)('POST', '/pages', ['addresses' => "/evening\n/pay/1\n/join"])->assertCreated();
    $this->web = [
        'https://shop.localhost/evening' => ($this->html)($this->snippet), 'https://shop.localhost/pay/1' => ($this->html)('<p>Nothing'),
        'https://shop.localhost/join' => ($this->html)("{$this->snippet}<a href='/evening'>e</a>"),
    ];
    ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertCreated();
    $list = ($this->call)('GET', '/pages')->json();
    expect(array_column($list['pages'], 'required', 'url')['https://shop.localhost/pay/1'])->toBe([['code' => 'tag:counter', 'stands' => false]])
        ->and(array_column($list['pages'], 'state', 'url'))->toEqual(['https://shop.localhost/join' => 'doubt', 'https://shop.localhost/pay/1' => 'doubt', 'https://shop.localhost/evening' => 'holds'])
        ->and(array_column($list['groups'], 'total', 'name'))->toEqual(['Evening' => 1, 'Pay' => 1, '' => 1]);
    expect(array_column(($this->call)('GET', '/pages?group=Pay&code=tag:counter')->json('pages'), 'url'))->toBe(['https://shop.localhost/pay/1'])
        ->and(($this->call)('GET', '/pages?state=holds&q=even')->json('total'))->toBe(1)->and(($this->call)('GET', '/pages?group=-')->json('total'))->toBe(1);
    $csv = $this->actingAs($this->person, 'sanctum')->get("/api/sites/{$this->site->key}/pages.csv?sort=url")->assertOk()->streamedContent();
    expect(explode("\r\n", $csv)[1])->toStartWith('https://shop.localhost/evening,Evening,typed,holds,')->and(substr_count($csv, "\r\n"))->toBe(4);
    // The groups change: the pages are sorted again.
    ($this->call)('PUT', '/page-groups', ['groups' => []])->assertOk();
    expect($this->site->pages()->whereNotNull('group_name')->count())->toBe(0);
});

it('finds a page by any part of its address, in any order, and whatever it misses', function () {
    $long = '/shelf/'.str_repeat('a-long-way/', 20).'Hidden_End';
    ($this->call)('POST', '/pages', ['addresses' => implode("\n", ['/Shelf/100%25-oak', '/shelf/100_oak', '/shelf/1000oak', $long, ...array_map(fn (int $i): string => "/room/{$i}", range(1, 120))])])->assertCreated();
    $found = fn (string $query): array => array_map(fn (string $url): string => (string) parse_url($url, PHP_URL_PATH), array_column(($this->call)('GET', "/pages?{$query}")->assertOk()->json('pages'), 'url'));
    expect($found('q=shelf'))->toHaveCount(4)->and($found('q=SHELF/100'))->toHaveCount(3)
        // What is a sign for the database is a character here.
        ->and($found('q=100_oak'))->toBe(['/shelf/100_oak'])->and($found('q=100%25'))->toBe(['/Shelf/100%25-oak'])
        // Beyond what is kept of an address to be found by.
        ->and($found('q=hidden_end'))->toBe([$long])->and($found('q=way/hidden&sort=-url'))->toBe([$long])->and($found('q=nowhere'))->toBe([]);
    $all = ($this->call)('GET', '/pages?q=/')->json();
    expect($all['total'])->toBe(124)->and($all['capped'])->toBeFalse()->and($all['pages'])->toHaveCount(100)->and($found('q=/&page=2'))->toHaveCount(24);
    $up = [...$found('sort=url'), ...$found('sort=url&page=2')];
    $down = [...$found('sort=-url'), ...$found('sort=-url&page=2')];
    expect($up)->toBe(array_reverse($down))->and(array_map(mb_strtolower(...), $up))->toBe(collect($up)->map(fn (string $path): string => mb_strtolower($path))->sort(SORT_STRING)->values()->all())
        ->and([...$found('sort=inspected'), ...$found('sort=inspected&page=2')])->toHaveCount(124);
    // A page may be sound and yet miss what only a note is for.
    $this->site->pages()->where('brief', 'like', '%/room/7')->first()->update(['verdict' => 'sound', 'faulty' => ['guard'], 'inspected_at' => now()]);
    expect($found('code=guard'))->toBe(['/room/7'])->and($found('code=guard&state=holds'))->toBe(['/room/7'])->and($found('code=snippet'))->toBe([]);
});

it('finds the same in the texts that workers prepare as in the table, while pages come and go', function () {
    ($this->call)('POST', '/pages', ['addresses' => implode("\n", array_map(fn (int $i): string => "/shelf/{$i}/oak-".($i * 7919 % 1000), range(1, 2300)))])->assertCreated();
    $inTable = fn (string $words): array => $this->site->pages()->orderBy('id')->where('brief', 'like', '%'.addcslashes($words, '%_\\').'%')->pluck('id')->all();
    $agree = function () use ($inTable): void {
        foreach (['oak-7', '/shelf/22', '9/oak-99', 'nowhere', '1', "\n", ' https', '/late/', 'e/2', '%', '_'] as $words) {
            $found = AddressBlocks::find($this->site, $words, 2000);
            $wanted = $inTable($words);
            expect($found === null ? null : collect($found)->sort()->values()->all())->toBe(count($wanted) > 2000 ? null : $wanted, $words);
        }
    };
    $agree();
    AddressBlocks::refresh($this->site);
    $agree();
    ($this->call)('POST', '/pages', ['addresses' => "/late/1\n/late/2"])->assertCreated();
    $agree();
    $this->site->pages()->where('brief', 'like', '%/shelf/22%')->delete();
    expect(($this->call)('GET', '/pages?q=/shelf/22')->assertOk()->json('pages'))->toBe([]);
    AddressBlocks::refresh($this->site);
    $agree();
    // So many that the order of an index is gone through: the first thousand of them are counted.
    $many = ($this->call)('GET', '/pages?q=oak&sort=url')->assertOk()->json();
    expect($many['total'])->toBe(1000)->and($many['capped'])->toBeTrue()->and($many['pages'][0]['url'])->toBe('https://shop.localhost/shelf/1/oak-919');
});

it('complains at the field of a group', function (array $groups, string $field) {
    ($this->call)('PUT', '/page-groups', ['groups' => $groups])->assertStatus(422)->assertJsonValidationErrors($field);
})->with([
    [[['name' => '', 'pages' => ['all' => []]]], 'groups.0.name'],
    [[['name' => 'a', 'pages' => ['fact' => 'url.path', 'op' => 'matches', 'value' => '(a+)+']]], 'groups.0.pages.value'],
    [[['name' => 'a', 'pages' => ['all' => []]], ['name' => 'a', 'pages' => ['all' => []]]], 'groups.1.name'],
    [['x'], 'groups.0'],
]);

it('runs one scan of a site at a time, and stops when it is told to', function () {
    ($this->call)('POST', '/pages', ['addresses' => "/a\n/b"])->assertCreated();
    $scan = $this->site->scans()->create(['kind' => 'inspect', 'state' => 'running', 'by' => 'x', 'notes' => [], 'started_at' => now()]);
    ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertStatus(422)->assertJsonValidationErrors('kind');
    ($this->call)('DELETE', "/scans/{$scan->id}")->assertOk()->assertJsonPath('state', 'cancelled');
    expect(app(Scanner::class)->work($scan, 1))->toBeFalse()->and($this->asked)->toBe([]);
    ($this->call)('POST', '/scans', ['kind' => 'often'])->assertStatus(422);
    ($this->call)('POST', '/scans', ['kind' => 'find', 'depth' => 99])->assertStatus(422);
});

it('lets the chain of an experiment rest on inspections', function () {
    $experiment = $this->site->experiments()->create([
        'key' => 'x', 'name' => 'X', 'hypothesis' => '', 'state' => 'draft', 'salt' => 's', 'share' => 1, 'changed_at' => now(),
        'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join'], 'variants' => [['key' => 'control', 'name' => 'c', 'weight' => 1, 'control' => true, 'changes' => []], ['key' => 'b', 'name' => 'b', 'weight' => 1, 'control' => false, 'changes' => []]],
    ]);
    $links = function (): array {
        $this->gather();

        return array_column(array_slice(($this->call)('GET', '/experiments/x/observations')->assertOk()->json('chain.links'), 0, 2), 'state', 'link');
    };
    expect($links())->toBe(['page' => 'unseen', 'snippet' => 'unseen']);
    ($this->call)('POST', '/pages', ['addresses' => '/join'])->assertCreated();
    $this->web = ['https://shop.localhost/join' => ($this->html)($this->snippet)];
    ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertCreated();
    expect($links())->toBe(['page' => 'doubt', 'snippet' => 'doubt']);
    $this->web = ['https://shop.localhost/join' => ($this->html)('<p>x')];
    $this->travel(2)->seconds();
    ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertCreated();
    $this->gather();
    $found = ($this->call)('GET', '/experiments/x/observations')->assertJsonPath('inspected.faulty', 1)->json('chain.links.1');
    expect($found['state'])->toBe('broken')->and($found['words'])->toContain('missing or broken on 1 of 1 inspected page, such as https://shop.localhost/join');
});

it('inspects captures and zip files, and refuses what is none', function () {
    $har = json_encode(['log' => ['version' => '1.2', 'entries' => []]]);
    ($this->call)('POST', '/inspections', ['har' => $har])->assertOk()->assertJsonPath('findings.0.code', 'page.unreachable')->assertJsonPath('calls', []);
    ($this->call)('POST', '/inspections', ['har' => '{"log":'])->assertStatus(422)->assertJsonValidationErrors('har');
    ($this->call)('POST', '/inspections', ['har' => '{"log":{"version":"1.2","entries":[{}]}}'])->assertStatus(422)->assertJsonPath('errors.har.0', 'log.entries.0.request: A request is a JSON object.');

    $file = tempnam(sys_get_temp_dir(), 'zip');
    $zip = new ZipArchive();
    $zip->open($file, ZipArchive::OVERWRITE);
    $zip->addFromString('b.html', '<p>none');
    $zip->addFromString('../a.HTM', $this->snippet);
    $zip->addFromString('readme.txt', 'x');
    $zip->close();
    $send = fn (string $path) => $this->actingAs($this->person, 'sanctum')->post("/api/sites/{$this->site->key}/inspections/archive", ['archive' => new Illuminate\Http\UploadedFile($path, 'pages.zip', null, null, true)], ['Accept' => 'application/json']);
    expect($send($file)->assertOk()->json())->toHaveCount(2)->and($send($file)->json('0'))->toMatchArray(['source' => '../a.HTM', 'verdict' => 'sound']);
    file_put_contents($file, 'no zip');
    $send($file)->assertStatus(422)->assertJsonValidationErrors('archive');
    $zip->open($file, ZipArchive::CREATE | ZipArchive::OVERWRITE);
    $zip->addFromString('bomb.html', str_repeat("\0", 6_000_000));
    $zip->close();
    expect($send($file)->assertStatus(422)->json('errors.archive.0'))->toContain('500 pages of 5 MB');
    unlink($file);
});

it('fetches nothing that only events told of, and offers it to a person', function () {
    $at = 'https://shop.localhost';
    foreach (["{$at}/secret", "{$at}:22/", "{$at}:3306/x", 'https://elsewhere.test/', "{$at}/known?a=1"] as $n => $url) {
        DB::table('addresses')->insert(['site_id' => $this->site->id, 'page' => $n + 1, 'url' => $url, 'host' => (string) parse_url($url, PHP_URL_HOST), 'first' => '2026-01-01', 'listed' => false]);
    }
    ($this->call)('POST', '/pages', ['addresses' => '/known'])->assertCreated();
    $this->web = ["{$at}/known" => ($this->html)("{$this->snippet}<a href='{$at}:8080/a'>a</a><a href='/linked'>l</a>"), "{$at}/linked" => new Response(302, ['Location' => "{$at}:3306/"]), "{$at}/secret" => ($this->html)('x')];
    ($this->call)('POST', '/scans', ['kind' => 'inspect'])->assertCreated();
    ($this->call)('POST', '/scans', ['kind' => 'find', 'depth' => 2, 'most' => 50])->assertCreated();
    expect(array_filter($this->asked, fn (string $url): bool => str_contains($url, 'secret') || preg_match('~:\d~', substr($url, 8)) === 1))->toBe([])
        ->and(($this->call)('GET', '/pages/seen')->assertOk()->json('addresses'))->toContain("{$at}/secret")->not->toContain("{$at}:22/")->not->toContain('https://elsewhere.test/')
        ->and(array_keys(($this->states)()))->not->toContain("{$at}/secret");
    ($this->call)('POST', '/pages', ['addresses' => "{$at}/secret"])->assertCreated();
    DB::table('addresses')->where('url', "{$at}/secret")->update(['page' => $this->site->pages()->where('url', "{$at}/secret")->value('page')]);
    app(App\Inventory\CoverageFigures::class)->refresh($this->site);
    expect(($this->call)('GET', '/pages/seen')->json('addresses'))->not->toContain("{$at}/secret");
});

it('fetches from private addresses for the demo\'s own hosts alone', function () {
    $this->site->update(['hosts' => ['demo.localhost', 'desk.demo.localhost', 'notdemo.localhost', 'demo.localhost.localhost']]);
    $fetcher = new PageFetcher(new Client(['handler' => fn () => GuzzleHttp\Promise\Create::promiseFor(new Response(200, ['Content-Type' => 'text/html'], 'x'))]), false, ['demo.localhost']);
    expect($fetcher->fetch($this->site, 'http://demo.localhost:8901/')->status)->toBe(200)->and($fetcher->fetch($this->site, 'http://desk.demo.localhost:8901/')->status)->toBe(200);
    foreach (['notdemo.localhost', 'demo.localhost.localhost'] as $host) {
        expect(fn () => $fetcher->fetch($this->site, "http://{$host}/"))->toThrow(App\Fetching\FetchFailed::class, 'private network');
    }
});

it('does not run again what has ended a worker twice, and goes on with the rest', function () {
    ($this->call)('POST', '/pages', ['addresses' => "/costly\n/fine\n/failing"])->assertCreated();
    $this->web = ['https://shop.localhost/costly' => ($this->html)($this->snippet), 'https://shop.localhost/fine' => ($this->html)($this->snippet), 'https://shop.localhost/failing' => new LogicException('x')];
    $scan = $this->site->scans()->create(['kind' => 'inspect', 'state' => 'running', 'by' => 'x', 'notes' => [], 'started_at' => now()]);
    foreach (['/costly' => 2, '/fine' => 1, '/failing' => 0] as $path => $begun) {
        $scan->items()->create(['what' => 'page', 'url' => "https://shop.localhost{$path}", 'hash' => App\Inventory\Inventory::hash("page {$path}"), 'depth' => 0, 'done' => false, 'begun' => $begun]);
    }
    while (app(Scanner::class)->work($scan, 1)) {
        // Until all is done.
    }
    $pages = ($this->call)('GET', '/pages')->json('pages');
    expect(array_column($pages, 'state', 'url'))->toMatchArray(['https://shop.localhost/costly' => 'broken', 'https://shop.localhost/fine' => 'holds', 'https://shop.localhost/failing' => 'unseen'])
        ->and(($this->call)('GET', '/pages/'.array_column($pages, 'id', 'url')['https://shop.localhost/costly'])->json('inspections.0.findings.0.code'))->toBe('page.too-costly')
        ->and(implode(' ', $scan->refresh()->notes))->toContain('/costly: work on it has ended a worker 2 times')->toContain('/failing: inspecting it failed')->and($scan->state)->toBe('done');
});

it('takes a file as it was kept, byte for byte', function (string $name, callable $bytes, array $codes) {
    $file = tempnam(sys_get_temp_dir(), 'page');
    file_put_contents($file, $bytes($this->site->snippet()));
    $reports = $this->actingAs($this->person, 'sanctum')->post("/api/sites/{$this->site->key}/inspections/archive", ['archive' => new Illuminate\Http\UploadedFile($file, $name, null, null, true), 'guard' => 'true'], ['Accept' => 'application/json'])->assertOk()->json();
    expect(array_column($reports[0]['findings'], 'code'))->toBe($codes);
})->with([
    ['utf-16.html', fn (string $snippet) => "\xff\xfe".mb_convert_encoding("<head>{$snippet}</head>", 'UTF-16LE', 'UTF-8'), ['guard.missing']],
    ['latin.htm', fn (string $snippet) => "<head><title>Caf\xe9</title>{$snippet}</head>", ['guard.missing']],
    ['page.xhtml', fn (string $snippet) => "<html xmlns='http://www.w3.org/1999/xhtml'><head><script/>".str_replace(' || ', ' /* &amp; */ || ', $snippet).'</head></html>', ['guard.missing']],
    ['page.html', fn (string $snippet) => "<html xmlns='http://www.w3.org/1999/xhtml'><head><script/>{$snippet}</head></html>", ['guard.missing', 'snippet.altered']],
    ['x.har', fn () => '{"log":{"version":"","entries":[]}}', ['page.unreachable']],
]);

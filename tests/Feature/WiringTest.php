<?php

use App\Collector\Collector;
use App\Models\Brief;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Moment;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    $this->tag = fn (array $change = []): array => ['key' => 'note', 'name' => 'Note', 'kind' => 'script', 'code' => "  x()\n", 'consent' => 'necessary', 'once' => 'page', 'triggers' => [['kind' => 'page', 'pages' => ['all' => []]]], ...$change];
    $this->save = fn (array $tags, int $revision) => ($this->call)('PUT', '/wiring/tags', ['tags' => $tags, 'revision' => $revision]);
    $this->published = fn (): array => json_decode(preg_replace('/\Awindow\.pellixSite=(.*?);\n.*\z/s', '$1', (string) file_get_contents(config('pellix.published')."/{$this->site->key}.js")), true);
});

it('publishes tags as numbered versions, tells them apart and restores them', function () {
    ($this->save)([($this->tag)()], 0)->assertOk()->assertJsonPath('revision', 1)->assertJsonPath('unpublished.0.change', 'added');
    ($this->call)('POST', '/wiring/versions', ['note' => ''])->assertStatus(422)->assertJsonValidationErrors('note');
    ($this->call)('POST', '/wiring/versions', ['note' => 'First'])->assertCreated()->assertJsonPath('number', 1)->assertJsonPath('author', 'P');
    expect(($this->published)())->toMatchArray(['wiring' => 1])->and(($this->published)()['tags'][0]['code'])->toBe("  x()\n");
    ($this->call)('POST', '/wiring/versions', ['note' => 'Again'])->assertStatus(422)->assertJsonPath('errors.note.0', 'Nothing differs from version 1, which is published.');
    ($this->save)([($this->tag)(['code' => 'y()']), ($this->tag)(['key' => 'two'])], 1)->assertOk();
    expect(($this->published)()['wiring'])->toBe(1, 'nothing reaches a page before it is published');
    ($this->call)('POST', '/wiring/versions', ['note' => 'Second'])->assertCreated();
    expect(array_column(($this->call)('GET', '/wiring/versions/2/differences?against=1')->assertOk()->json(), 'change', 'key'))->toBe(['note' => 'changed', 'two' => 'added']);
    ($this->call)('POST', '/wiring/versions/1/restore')->assertCreated()->assertJsonPath('number', 3)->assertJsonPath('restores', 1);
    expect(($this->published)()['tags'])->toHaveCount(1)->and(($this->call)('GET', '/wiring')->json('unpublished'))->toBe([])
        ->and(($this->call)('GET', '/wiring/versions/3/differences?against=1')->json())->toBe([]);
    ($this->call)('GET', '/wiring/versions/3/differences?against=9')->assertNotFound();
    ($this->call)('POST', '/wiring/versions/9/restore')->assertNotFound();
});

it('lets nobody overwrite what another has saved', function () {
    ($this->save)([($this->tag)()], 0)->assertOk();
    expect(($this->save)([], 0)->assertStatus(409)->json('message'))->toContain('Somebody else has changed the tags')
        ->and($this->site->refresh()->tags)->toHaveCount(1);
});

it('complains at the field of a tag', function (array $tags, string $field) {
    ($this->save)($tags, 0)->assertStatus(422)->assertJsonValidationErrors($field);
})->with([
    [[['key' => 'x']], 'tags.0.kind'],
    [[['key' => 'x', 'kind' => 'script', 'code' => 'x', 'triggers' => [['kind' => 'event', 'name' => 'a b']]]], 'tags.0.triggers.0.name'],
    [['x'], 'tags.0'],
]);

it('tells how often each tag fired', function () {
    foreach ([0, 1, 8] as $i => $days) {
        $time = CarbonImmutable::now('UTC')->subDays($days);
        $event = ['id' => "e{$i}", 'visitor' => 'v', 'time' => Moment::format($time), 'name' => 'tag_fired', 'url' => 'http://shop.test/', 'props' => ['tag' => 'note']];
        (new Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => [$event]]), 'test', $time);
    }
    $this->gather();
    ($this->call)('GET', '/wiring')->assertOk()->assertJsonPath('fired.note.count', 2);
});

it('hands the job over behind a link that can be taken back and ends', function () {
    $brief = ($this->call)('POST', '/briefs', ['recipient' => 'Moss & <b>Sons</b>', 'message' => 'Please', 'days' => 7, 'guard_ms' => 1500])->assertCreated()->json();
    $path = (string) parse_url($brief['address'], PHP_URL_PATH);
    expect($path)->toMatch('~\A/brief/[A-Za-z0-9]{43}\z~')->and(Brief::query()->value('token_hash'))->not->toContain(substr($path, 7));
    $page = $this->site->pages()->create(['url' => 'https://shop.test/<x>', 'hash' => 'h', 'source' => 'typed', 'added_at' => now(), 'faulty' => ['snippet'], 'verdict' => 'broken', 'inspected_at' => now()]);
    $this->gather();
    $text = $this->get($path)->assertOk()->assertHeader('X-Robots-Tag', 'noindex, nofollow')->assertHeader('Referrer-Policy', 'no-referrer')->getContent();
    expect($text)->toContain('https://shop.test/&lt;x&gt;')->toContain('0 of 1')->toContain('data-pellix-guard')->not->toContain('<b>Sons</b>')
        ->and(strpos($text, 'data-pellix-guard'))->toBeLessThan(strpos($text, 'data-pellix=&quot;'));
    $page->update(['faulty' => [], 'verdict' => 'sound']);
    app(App\Inventory\CoverageFigures::class)->refresh($this->site);
    expect($this->get($path)->getContent())->toContain('1 of 1');
    expect($this->get("{$path}.md")->assertOk()->assertHeader('Content-Type', 'text/markdown; charset=utf-8')->getContent())->toContain($this->site->snippet());
    $this->get("{$path}.html")->assertOk()->assertDownload("{$this->site->key}-brief.html");
    expect(Brief::query()->value('read_at'))->not->toBeNull();

    $this->travel(8)->days();
    $this->get($path)->assertNotFound();
    $this->travelBack();
    ($this->call)('DELETE', "/briefs/{$brief['id']}")->assertOk()->assertJsonPath('address', null);
    $this->get($path)->assertNotFound()->assertSee('This link does not work');
    $this->get('/brief/'.str_repeat('x', 43))->assertNotFound();
    ($this->call)('POST', '/briefs', ['recipient' => '', 'days' => 0])->assertStatus(422)->assertJsonValidationErrors(['recipient', 'days']);
});

it('keeps all of it from people who do not look after the site', function (string $method, string $path) {
    $stranger = $this->makePerson();
    $this->as($stranger, $method, "/api/sites/{$this->site->key}{$path}")->assertNotFound();
})->with([
    ['GET', '/pages'], ['POST', '/pages'], ['PUT', '/page-groups'], ['POST', '/scans'], ['GET', '/findings'], ['GET', '/briefs'], ['POST', '/briefs'],
    ['GET', '/wiring'], ['PUT', '/wiring/tags'], ['POST', '/wiring/versions'],
]);

<?php

use App\Collector\Collector;
use App\Experiments\RunAdviceTrial;
use App\Models\Trial;
use Illuminate\Support\Facades\DB;
use Tests\Support\FeatureTestCase;

/*
 * Drafts as they are written: kept whole or not, by two people, and what is said about them.
 */

/** @param list<array<string, mixed>> $events */
function receive(FeatureTestCase $test, array $events, string $agent = ''): void
{
    $body = (string) json_encode(['pellix' => 1, 'site' => $test->site->key, 'events' => $events]);
    expect((new Collector(DB::connection()->getPdo()))->take($body, $agent, new DateTimeImmutable('now', new DateTimeZone('UTC')))->json['accepted'])->toBe(count($events));
    $test->gather();
}

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->actingAs($this->person, 'sanctum');
    $this->base = "/api/sites/{$this->site->key}";
    $this->site->goals()->create(['key' => 'done', 'name' => 'Done', 'definition' => ['key' => 'done', 'name' => 'Done', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']]]);
    $this->draft = [
        'name' => 'Shorter', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'], 'goals' => [],
        'variants' => [
            ['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
            ['key' => 'b', 'name' => 'B', 'weight' => 50, 'control' => false, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'x']]],
        ],
    ];
    $this->key = $this->as(null, 'POST', "{$this->base}/experiments", $this->draft)->assertCreated()->json('key');
    $this->keep = fn (array $change, ?int $revision = null) => $this->as(null, 'PUT', "{$this->base}/experiments/{$this->key}/draft", [...$this->draft, ...$change], $revision === null ? [] : ['If-Match' => "\"{$revision}\""]);
});

it('keeps what is not finished as it was written, beside the last whole state, and says what is missing', function () {
    $unfinished = $this->draft['variants'];
    $unfinished[1]['changes'][] = ['kind' => 'text', 'selector' => '', 'value' => ''];
    $kept = ($this->keep)(['name' => 'Shorter still', 'variants' => $unfinished, 'share' => null])->assertOk();
    expect($kept->json('problems'))->not->toBe([])
        ->and($kept->json('experiment.name'))->toBe('Shorter')
        ->and($kept->json('experiment.unfinished.name'))->toBe('Shorter still')
        ->and($kept->json('experiment.unfinished.variants'))->toBe($unfinished);
    $this->as(null, 'POST', "{$this->base}/experiments/{$this->key}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertUnprocessable()->assertJsonValidationErrors(['action' => 'The draft is not finished']);

    $whole = ($this->keep)(['name' => 'Shorter still', 'goals' => [['key' => 'done', 'role' => 'primary']]])->assertOk();
    expect($whole->json('problems'))->toBe([])->and($whole->json('experiment.unfinished'))->toBeNull()->and($whole->json('experiment.name'))->toBe('Shorter still')
        ->and($whole->json('experiment.changed_by'))->toBe($this->person->name);
    $this->as(null, 'POST', "{$this->base}/experiments/{$this->key}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    // What has started is not kept as it is typed.
    ($this->keep)([])->assertConflict();
});

it('does not start without a goal', function () {
    $this->as(null, 'POST', "{$this->base}/experiments/{$this->key}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertUnprocessable()->assertJsonValidationErrors(['action' => 'Name a goal first']);
});

it('tells the second of two people that the first was faster, and loses nobody\'s work', function () {
    $seen = $this->as(null, 'GET', "{$this->base}/experiments/{$this->key}")->json('revision');
    $other = $this->makePerson($this->site);
    $this->actingAs($other, 'sanctum');
    $first = ($this->keep)(['name' => 'By the other'], $seen)->assertOk()->json('experiment.revision');
    $this->actingAs($this->person, 'sanctum');
    ($this->keep)(['name' => 'By me'], $seen)->assertStatus(412)->assertJsonFragment(['message' => "{$other->name} has changed this experiment meanwhile. Look at it as it is now (revision {$first}), and change it again."]);
    ($this->keep)(['name' => '', 'share' => null], $seen)->assertStatus(412);
    ($this->keep)(['name' => 'By me'], 99_999)->assertStatus(412);
    $this->as(null, 'PUT', "{$this->base}/experiments/{$this->key}/draft", $this->draft, ['If-Match' => '"nonsense"'])->assertStatus(412);
    expect($this->as(null, 'GET', "{$this->base}/experiments/{$this->key}")->json('name'))->toBe('By the other');
    ($this->keep)(['name' => 'By me'], $first)->assertOk();
});

it('makes one revision of what one person writes in one go, and of each that visitors may meet', function () {
    foreach (['a', 'b', 'c'] as $name) {
        ($this->keep)(['name' => $name])->assertOk();
    }
    $revisions = $this->as(null, 'GET', "{$this->base}/experiments/{$this->key}/revisions")->json();
    expect(array_column($revisions, 'number'))->toBe([4])->and($revisions[0]['declared']['name'])->toBe('c');
    $this->actingAs($this->makePerson($this->site), 'sanctum');
    ($this->keep)(['name' => 'd'])->assertOk();
    expect($this->as(null, 'GET', "{$this->base}/experiments/{$this->key}/revisions")->json())->toHaveCount(2);
});

it('refuses what has not even the shape of a draft, at its field', function (array $change, string $field) {
    ($this->keep)($change)->assertUnprocessable()->assertJsonValidationErrors($field);
})->with([
    [['variants' => 'x'], 'variants'], [['variants' => [['weight' => 1]]], 'variants.0.key'], [['pages' => null], 'pages'], [['goals' => [5]], 'goals.0'], [['share' => 'half'], 'share'], [['name' => ['x']], 'name'],
    [['variants' => [['key' => 'a', 'weight' => 1, 'changes' => [['selector' => 'x']]]]], 'variants.0.changes.0.kind'], [['kind' => 'multivariate'], 'kind'], [['trigger' => ['kind' => 'weird']], 'trigger.kind'], [['trigger' => ['kind' => 'page', 'pages' => 'x']], 'trigger.pages'], [['notes' => str_repeat('x', 10_001)], 'notes'],
]);

it('bounds what a draft may hold', function () {
    $many = array_fill(0, 100, ['kind' => 'script', 'value' => str_repeat('x', 20_000)]);
    ($this->keep)(['variants' => [$this->draft['variants'][0], [...$this->draft['variants'][1], 'changes' => $many]]])->assertStatus(413);
});

it('lets nobody write code for visitors\' browsers who may not publish, and leaves what somebody else has written', function () {
    $code = fn (string $value): array => ['variants' => [$this->draft['variants'][0], [...$this->draft['variants'][1], 'changes' => [['kind' => 'html', 'selector' => 'h1', 'value' => $value]]]]];
    $this->actingAs($this->makePersonWho('work', $this->site), 'sanctum');
    expect(($this->keep)($code('<b>x</b>'))->assertOk()->json('problems'))->toHaveKey('variants.1.changes.0.kind');
    $this->as(null, 'POST', "{$this->base}/experiments", [...$this->draft, 'name' => 'Other', ...$code('<b>x</b>')])->assertUnprocessable()->assertJsonValidationErrors('variants.1.changes.0.kind');
    $this->actingAs($this->person, 'sanctum');
    expect(($this->keep)($code('<b>x</b>'))->json('problems'))->toBe([]);
    $this->actingAs($this->makePersonWho('work', $this->site), 'sanctum');
    expect(($this->keep)([...$code('<b>x</b>'), 'name' => 'Mine'])->json('problems'))->toBe([])->and(($this->keep)($code('<b>y</b>'))->json('problems'))->toHaveKey('variants.1.changes.0.kind');
});

it('finds the pages and visitors of the last four weeks', function () {
    foreach (['/loan', '/loan/two', '/Loan', '/join'] as $path) {
        $this->site->pages()->create(['url' => "https://shop.test{$path}", 'hash' => substr(md5($path), 0, 16), 'source' => 'typed', 'added_at' => now(), 'faulty' => []]);
    }
    $now = now('UTC');
    $views = [['a', '/loan', 3], ['a', '/loan', 5], ['b', '/loan', 3], ['c', '/join', 3]];
    receive($this, array_map(static fn (array $view, int $i): array => ['id' => "e{$i}", 'visitor' => $view[0], 'time' => $now->copy()->subDays($view[2])->format('Y-m-d\TH:i:s\Z'), 'name' => 'page_view', 'url' => "https://shop.test{$view[1]}"], $views, array_keys($views)));
    $trial = $this->as(null, 'POST', "{$this->base}/reach", ['pages' => $this->draft['pages'], 'audience' => null])->assertStatus(202)->json('id');
    $result = $this->as(null, 'GET', "{$this->base}/experiment-trials/{$trial}")->assertOk()->json('result');
    expect($result)->toMatchArray(['matching' => ['https://shop.test/loan'], 'matching_total' => 1, 'known' => 4, 'views' => 3, 'visitors' => 2, 'eligible' => 2, 'unknown' => 0, 'partial' => false, 'element' => null])
        ->and(array_column($result['near'], 'why', 'url'))->toMatchArray(['https://shop.test/Loan' => 'only capitals differ', 'https://shop.test/loan/two' => 'its path goes on after that: /two'])
        ->and(array_column($result['weeks'], 'visitors'))->toBe([0, 0, 0, 2]);
    $this->as(null, 'POST', "{$this->base}/reach", ['pages' => ['fact' => 'device', 'op' => 'is', 'value' => 'x']])->assertUnprocessable()->assertJsonValidationErrors('pages.fact');
});

it('looks a draft over on the page as it was inspected', function () {
    $page = $this->site->pages()->create(['url' => 'https://shop.test/loan', 'hash' => 'h', 'source' => 'typed', 'added_at' => now(), 'faulty' => [], 'inspected_at' => now()]);
    DB::table('page_sheets')->insert(['site_id' => $this->site->id, 'hash' => sha1('x'), 'url' => 'https://shop.test/site.css', 'at' => now(), 'css' => gzencode("body {}\nh1 b { color: green }")]);
    DB::table('page_copies')->insert(['page_id' => $page->id, 'site_id' => $this->site->id, 'at' => now(), 'url' => $page->url, 'bytes' => 1, 'sheets' => json_encode([sha1('x')]), 'html' => gzencode("<!doctype html>\n<body><h1><b>Loan</b></h1><p>x</p><p>y</p>")]);
    $variants = $this->draft['variants'];
    $variants[1]['changes'] = [['kind' => 'style', 'selector' => 'h1', 'property' => 'color', 'value' => 'red'], ['kind' => 'hide', 'selector' => 'p'], ['kind' => 'hide', 'selector' => '.none'], ['kind' => 'text', 'selector' => '', 'value' => '']];
    ($this->keep)(['variants' => $variants])->assertOk();
    $trial = $this->as(null, 'POST', "{$this->base}/experiments/{$this->key}/advice")->assertStatus(202)->json('id');
    $result = $this->as(null, 'GET', "{$this->base}/experiment-trials/{$trial}")->assertOk()->json('result');
    expect(array_column($result['advice'], 'field', 'code'))->toMatchArray(['goals.missing' => 'goals', 'change.style-loses' => 'variants.1.changes.0.property', 'selector.matches-many' => 'variants.1.changes.1.selector', 'selector.matches-none' => 'variants.1.changes.2.selector'])
        ->and(collect($result['advice'])->firstWhere('code', 'change.style-loses')['words'])->toContain('(/site.css, line 2)')
        ->and($result['selectors'][1])->toMatchArray(['field' => 'variants.1.changes.1.selector', 'selector' => 'p'])
        ->and($result['selectors'][1]['pages'][0])->toMatchArray(['found' => 2])->and($result['selectors'][1]['pages'][0]['lines'][0]['line'])->toBe(2);
    // A trial of another site is nobody's here.
    $elsewhere = $this->makeSite('plx_featuretests0002');
    $this->makePerson($elsewhere);
    Trial::query()->create(['site_id' => $elsewhere->id, 'user_id' => $this->person->id, 'kind' => 'advice', 'definition' => [], 'state' => 'done', 'started_at' => now()]);
    $this->getJson("{$this->base}/experiment-trials/".Trial::query()->max('id'))->assertNotFound();
});

it('says at its own place that a trial broke off', function () {
    $trial = Trial::query()->create(['site_id' => $this->site->id, 'user_id' => $this->person->id, 'kind' => 'advice', 'definition' => [], 'state' => 'running', 'started_at' => now()]);
    (new RunAdviceTrial($trial->id))->failed();
    expect($this->as(null, 'GET', "{$this->base}/experiment-trials/{$trial->id}")->json('state'))->toBe('failed');
});

it('tells who would enter, of visitors who are described and of recorded ones', function () {
    receive($this, [['id' => 'seen', 'visitor' => 'v', 'time' => now('UTC')->format('Y-m-d\TH:i:s\Z'), 'name' => 'page_view', 'url' => 'https://shop.test/loan']], 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) Version/18.5 Mobile/15E148 Safari/604.1');
    $ask = fn (array $audience, array $visitors) => $this->as(null, 'POST', "{$this->base}/entry-traces", ['pages' => $this->draft['pages'], 'audience' => $audience, 'visitors' => $visitors]);
    expect($ask(['fact' => 'device', 'op' => 'is', 'value' => 'desktop'], [['url' => 'https://shop.test/loan', 'device' => 'desktop'], ['url' => 'https://shop.test/loan'], ['event' => 'seen', 'visitor' => 'v'], ['event' => 'gone']])->assertOk()->json('*.words'))->toBe([
        'enters', 'cannot be told: device is not known, wanted `desktop`', 'does not: device is `mobile`, wanted `desktop`', 'There is no such recorded event any more.',
    ]);
    expect($ask(['fact' => 'language', 'op' => 'is', 'value' => 'de'], [['event' => 'seen', 'visitor' => 'v']])->json('0.enters'))->toBeNull();
    $ask(['fact' => 'device', 'op' => 'is', 'value' => 'desktop'], [['url' => '/loan']])->assertUnprocessable()->assertJsonValidationErrors('visitors.0.url');
});

it('suggests names by the pattern of the site', function () {
    $this->as(null, 'PUT', "{$this->base}/naming", ['pattern' => '{page} {name} {name}'])->assertUnprocessable()->assertJsonValidationErrors('pattern');
    $this->as(null, 'PUT', "{$this->base}/naming", ['pattern' => '{page} {number} {name}'])->assertOk();
    expect($this->as(null, 'GET', "{$this->base}/naming?name=Shorter&path=/loan")->json())->toBe(['pattern' => '{page} {number} {name}', 'fits' => false, 'suggestion' => 'loan 002 Shorter'])
        ->and($this->as(null, 'GET', "{$this->base}/naming?name=".urlencode('loan 002 Shorter'))->json('fits'))->toBeTrue();
    $this->as(null, 'PUT', "{$this->base}/naming", ['pattern' => null])->assertOk();
    expect($this->as(null, 'GET', "{$this->base}/naming?name=Shorter")->json('suggestion'))->toBeNull();
});

it('refuses redirect tests that lead visitors round, also by way of a third', function () {
    $redirect = fn (string $name, string $from, string $to): array => [
        'name' => $name, 'kind' => 'redirect', 'share' => 1, 'goals' => [['key' => 'done']], 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $from],
        'variants' => [['key' => 'a', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1, 'target' => $to]],
    ];
    $start = function (array $file): Illuminate\Testing\TestResponse {
        $key = $this->as(null, 'POST', "{$this->base}/experiments", $file)->assertCreated()->json('key');

        return $this->as(null, 'POST', "{$this->base}/experiments/{$key}/stage", ['action' => 'start', 'reason' => 'For a test']);
    };
    $start($redirect('One', '/a', '/b'))->assertOk();
    $start($redirect('Two', '/b', '/c'))->assertOk();
    $start($redirect('Pair', '/b', '/a'))->assertUnprocessable()->assertJsonValidationErrors(['action' => 'Visitors would go round in circles']);
    $start($redirect('Three', '/c', 'https://shop.test/a?x=1'))->assertUnprocessable()->assertJsonValidationErrors(['action' => 'one, then two']);
    $start($redirect('Elsewhere', '/c', '/d'))->assertOk();
    // One that runs is not turned into such a one, either.
    $this->as(null, 'PUT', "{$this->base}/experiments/elsewhere", $redirect('Elsewhere', '/c', '/a'))->assertUnprocessable()->assertJsonValidationErrors('variants');
    $this->as(null, 'POST', "{$this->base}/experiments", $redirect('Away', '/e', 'https://elsewhere.test/'))->assertUnprocessable()->assertJsonValidationErrors('variants.1.target');
});

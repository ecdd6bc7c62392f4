<?php

use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Route;

/*
 * Whatever a client sends, the answer is a message and never a failure of ours. Each route that takes a body gets bodies
 * that nobody meant, and each parameter of an address gets texts that are none.
 */

/** Bodies that no route expects. */
function hardBodies(): array
{
    $deep = [];
    for ($i = 0; $i < 40; $i++) {
        $deep = ['x' => $deep];
    }
    $names = ['name', 'key', 'kind', 'pages', 'variants', 'goals', 'tags', 'groups', 'events', 'steps', 'value', 'note', 'state', 'action', 'url', 'html', 'har', 'addresses', 'plan', 'schema', 'examples',
        'revision', 'share', 'trigger', 'data_layer', 'data_events', 'consent_mode', 'honour_gpc', 'session_minutes', 'recipient', 'days', 'guard_ms', 'email', 'password', 'when', 'selector', 'count', 'currency', 'meaning', 'sent_from'];

    return [
        'nothing' => [],
        'null everywhere' => array_fill_keys($names, null),
        'true everywhere' => array_fill_keys($names, true),
        'a number everywhere' => array_fill_keys($names, 7),
        'a huge number everywhere' => array_fill_keys($names, 1e300),
        'a negative number everywhere' => array_fill_keys($names, -1),
        'a text everywhere' => array_fill_keys($names, 'x'),
        'odd characters everywhere' => array_fill_keys($names, "\u{0}\u{202e}<script>\u{1f600}'\"\\"),
        'a long text everywhere' => array_fill_keys($names, str_repeat('ž', 3000)),
        'an empty list everywhere' => array_fill_keys($names, []),
        'a list of nothings everywhere' => array_fill_keys($names, [null, [], 0, '']),
        'lists in lists everywhere' => array_fill_keys($names, [[[[1]]]]),
        'an object everywhere' => array_fill_keys($names, ['a' => ['b' => 'c']]),
        'a rule everywhere' => array_fill_keys($names, ['fact' => 'url.path', 'op' => 'matches', 'value' => '(a+)+$']),
        'a deep rule everywhere' => array_fill_keys($names, ['not' => ['not' => ['all' => [['any' => []]]]]]),
        'a list of objects everywhere' => array_fill_keys($names, [['kind' => 'page'], ['key' => 'x', 'name' => ['y']], ['fact' => 5]]),
        'very deep' => $deep,
    ];
}

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->actingAs($this->person, 'sanctum');
    $this->site->goals()->create(['key' => 'g', 'name' => 'G', 'definition' => ['key' => 'g', 'name' => 'G', 'kind' => 'order', 'count' => 'every']]);
    $this->site->pages()->create(['url' => 'https://shop.test/', 'hash' => 'h', 'source' => 'typed', 'added_at' => now(), 'faulty' => []]);
    $this->site->experiments()->create([
        'key' => 'x', 'name' => 'X', 'hypothesis' => '', 'state' => 'draft', 'salt' => 's', 'share' => 1, 'changed_at' => now(), 'pages' => ['all' => []],
        'variants' => [['key' => 'control', 'name' => 'c', 'weight' => 1, 'control' => true, 'changes' => []], ['key' => 'b', 'name' => 'b', 'weight' => 1, 'control' => false, 'changes' => []]],
    ]);
    /** @var list<array{string, string}> method and path of every route that changes something */
    $this->changing = collect(Route::getRoutes()->getRoutes())
        ->filter(fn ($route): bool => str_starts_with($route->uri(), 'api/') && array_intersect(['POST', 'PUT'], $route->methods()) !== [])
        ->map(fn ($route): array => [array_values(array_diff($route->methods(), ['PATCH']))[0], '/'.strtr($route->uri(), [
            '{site}' => $this->site->key, '{experiment}' => 'x', '{goal}' => 'g', '{page}' => (string) $this->site->pages()->value('id'), '{finding}' => '1', '{wiringVersion}' => '1', '{name}' => 'joined', '{format}' => 'json',
        ])])
        // Those would fetch from outside.
        ->reject(fn (array $one): bool => str_contains($one[1], '/scans') || preg_match('~/pages/\d+/inspections~', $one[1]) === 1)
        ->values()->all();
});

it('answers every body that nobody meant with a message', function (array $body) {
    expect(count($this->changing))->toBeGreaterThan(15);
    foreach ($this->changing as [$method, $path]) {
        // A text that is not UTF-8, or a number that is none, cannot be JSON at all.
        $response = $this->json($method, $path, $body);
        expect($response->getStatusCode())->toBeLessThan(500, "{$method} {$path}: ".mb_substr((string) $response->getContent(), 0, 300));
        if ($response->getStatusCode() >= 400) {
            expect($response->json('message'))->toBeString("{$method} {$path}");
        }
    }
})->with(array_map(fn (array $body): array => [$body], hardBodies()));

it('answers bodies that are no JSON, or another kind of it', function (string $body, string $type) {
    foreach ($this->changing as [$method, $path]) {
        $response = $this->call($method, $path, [], [], [], ['CONTENT_TYPE' => $type, 'HTTP_ACCEPT' => 'application/json'], $body);
        expect($response->getStatusCode())->toBeLessThan(500, "{$method} {$path}: ".mb_substr((string) $response->getContent(), 0, 300));
    }
})->with([
    ['{', 'application/json'], ['', 'application/json'], ['5', 'application/json'], ['"text"', 'application/json'], ['null', 'application/json'], ['[1,2]', 'application/json'], ["\xff\xfe", 'application/json'],
    ['name=x&kind=page&tags[]=1', 'application/x-www-form-urlencoded'], ['<xml/>', 'text/xml'], [str_repeat('[', 600), 'application/json'], ['{"name":"x","name":"y","kind":"order"}', 'application/json'],
]);

it('answers addresses that nobody meant', function (string $odd) {
    $encoded = rawurlencode($odd);
    $paths = [
        "/experiments/{$encoded}", "/experiments/{$encoded}/observations", "/experiments/{$encoded}/file", "/goals/{$encoded}", "/events/{$encoded}", "/feed/{$encoded}", "/pages/{$encoded}", "/plan.{$encoded}",
        "/wiring/versions/{$encoded}/differences?against=0", "/pages?state={$encoded}", "/pages?q={$encoded}&group={$encoded}&code={$encoded}&sort={$encoded}&page={$encoded}", "/pages.csv?q={$encoded}",
        "/feed?page={$encoded}&event={$encoded}&experiment={$encoded}&variant={$encoded}&visitor={$encoded}&mine={$encoded}", "/feed?after={$encoded}", '/feed?after[]=1&page[]=2',
    ];
    foreach ($paths as $path) {
        $response = $this->json('GET', "/api/sites/{$this->site->key}{$path}");
        expect($response->getStatusCode())->toBeLessThan(500, "{$path}: ".mb_substr((string) $response->getContent(), 0, 300));
    }
    expect($this->json('GET', "/api/sites/{$encoded}")->getStatusCode())->toBeIn([200, 400, 404, 405]);
})->with(['x', '0', '-1', '99999999999999999999', "\0", '%', '_', "'", '"', '\\', '../..', '<b>', 'é', "\xff", str_repeat('x', 3000), '1e9', '[]', 'null']);

it('keeps its database as it was, whatever was refused', function () {
    $before = array_map(fn (string $table): int => DB::table($table)->count(), ['sites', 'users', 'events', 'wiring_versions', 'briefs']);
    foreach (hardBodies() as $name => $body) {
        if (in_array($name, ['nothing', 'null everywhere', 'an object everywhere', 'lists in lists everywhere'], true)) {
            foreach ($this->changing as [$method, $path]) {
                $this->json($method, $path, $body);
            }
        }
    }
    expect(array_map(fn (string $table): int => DB::table($table)->count(), ['sites', 'users', 'events', 'wiring_versions', 'briefs']))->toBe($before)
        ->and($this->site->refresh()->hosts)->toBe(['shop.test'])
        ->and($this->site->goals()->count())->toBe(1);
});

it('refuses a body that is cut off, too deep, or no object, and changes nothing', function (string $body) {
    $before = DB::table('sites')->where('id', $this->site->id)->first();
    foreach ($this->changing as [$method, $path]) {
        $answer = $this->call($method, $path, [], [], [], ['CONTENT_TYPE' => 'application/json', 'HTTP_ACCEPT' => 'application/json'], $body);
        expect($answer->getStatusCode())->toBe(422, "{$method} {$path}")->and($answer->json('message'))->toContain('JSON');
    }
    expect(DB::table('sites')->where('id', $this->site->id)->first())->toEqual($before);
})->with(['{"events":[{"name":"a"', str_repeat('[', 20_000), '{"a":'.str_repeat('{"a":', 10_000), '7', '"x"', 'null', "\xff"]);

it('refuses deep values within texts', function () {
    $har = $this->postJson("/api/sites/{$this->site->key}/inspections", ['har' => str_repeat('[', 20_000)]);
    expect($har->getStatusCode())->toBe(422)->and($har->json('errors.har.0'))->toContain('deep')
        ->and($this->postJson("/api/sites/{$this->site->key}/plan", ['plan' => str_repeat('{"a":', 20_000)])->getStatusCode())->toBeGreaterThanOrEqual(400)->toBeLessThan(500);
});

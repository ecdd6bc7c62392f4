<?php

use App\Fetching\PageFetcher;
use App\Models\Site;
use App\Models\User;
use GuzzleHttp\Client;
use GuzzleHttp\Handler\MockHandler;
use GuzzleHttp\Psr7\Response;

function siteRequest(array $more = []): array
{
    return ['name' => 'Harbour Books', 'hosts' => ['https://Books.localhost:9000/shelf'], 'time_zone' => 'Europe/Lisbon', 'currency' => 'eur', ...$more];
}

function sendTo(string $key, string $name, string $id): App\Collector\Answer
{
    $now = new DateTimeImmutable('now', new DateTimeZone('UTC'));

    return (new App\Collector\Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $key, 'events' => [
        ['id' => $id, 'visitor' => 'v1', 'name' => $name, 'time' => $now->format('Y-m-d\TH:i:s\Z'), 'url' => 'https://books.localhost/', 'referrer' => '', 'props' => (object) []],
    ]]), 'x', $now);
}

beforeEach(function () {
    $this->maker = User::factory()->create(['makes_sites' => true]);
    $this->make = fn (array $more = []): Illuminate\Testing\TestResponse => $this->as($this->maker, 'POST', '/api/sites', siteRequest($more));
});

it('makes the first account of an empty copy for whoever has the link, and for nobody else', function () {
    User::query()->delete();
    config(['pellix.setup_code' => 'a-code-of-this-copy']);
    $origin = ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'];
    $try = fn (array $more): Illuminate\Testing\TestResponse => $this->signedOut()->postJson('/api/begin', ['code' => 'a-code-of-this-copy', 'name' => 'Mara', 'email' => 'mara@books.test', 'password' => 'seven boats turn north', ...$more], $origin);
    $this->getJson('/api/begin')->assertExactJson(['awaited' => true]);
    $try(['code' => 'guessed'])->assertStatus(422)->assertJsonValidationErrors('code');
    $try(['password' => 'mara'])->assertStatus(422)->assertJsonValidationErrors('password');
    $try([])->assertCreated()->assertJsonPath('makes_sites', true)->assertJsonPath('sites', []);
    $try(['email' => 'second@books.test'])->assertNotFound();
    $this->getJson('/api/begin')->assertExactJson(['awaited' => false]);
    expect(DB::table('security_events')->pluck('matter')->all())->toContain('link-refused', 'signed-in');
    config(['pellix.setup_code' => '']);
    User::query()->delete();
    $this->getJson('/api/begin')->assertExactJson(['awaited' => false]);
});

it('makes a site that its maker owns, with its file published', function () {
    $made = ($this->make)()->assertCreated()->json();
    expect($made['hosts'])->toBe(['books.localhost'])->and($made['currency'])->toBe('EUR')->and(is_file(config('pellix.published')."/{$made['key']}.js"))->toBeTrue();
    $this->as($this->maker, 'GET', '/api/session')->assertJsonPath('sites.0.right', 'own');
    $this->as($this->maker, 'GET', "/api/sites/{$made['key']}/settings")->assertOk()->assertJsonPath('srm_alpha', 0.001)->assertJsonPath('cookie_days', 15);
    $this->as(User::factory()->create(), 'POST', '/api/sites', siteRequest())->assertForbidden();
    $token = $this->as($this->maker, 'POST', '/api/tokens', ['name' => 't', 'site' => $made['key'], 'right' => 'own', 'days' => 3])->json('secret');
    $this->signedOut()->withToken($token)->postJson('/api/sites', siteRequest())->assertForbidden();
});

it('says what no site can have, at the field', function (string $field, mixed $value, string $at) {
    ($this->make)([$field => $value])->assertStatus(422)->assertJsonValidationErrors($at);
})->with([
    ['name', ' ', 'name'], ['name', ['x'], 'name'], ['name', str_repeat('x', 81), 'name'], ['hosts', [], 'hosts'], ['hosts', 'x', 'hosts'], ['hosts', ['books test'], 'hosts.0'], ['hosts', ['a.test', 'A.test.'], 'hosts.1'],
    ['hosts', ['me@books.test'], 'hosts.0'], ['hosts', [7], 'hosts.0'], ['hosts', array_fill(0, 21, 'a.test'), 'hosts'], ['hosts', ["a\n.test"], 'hosts.0'], ['time_zone', 'Lisbon', 'time_zone'], ['currency', 'EURO', 'currency'],
    ['cookie_days', 401, 'cookie_days'], ['cookie_days', '15', 'cookie_days'], ['session_minutes', 0, 'session_minutes'], ['srm_alpha', 0, 'srm_alpha'], ['srm_alpha', 'x', 'srm_alpha'], ['fresh_seconds', 60, 'fresh_seconds'],
]);

it('reads hosts as people type them', function (string $typed, string $host) {
    ($this->make)(['hosts' => [$typed]])->assertCreated()->assertJsonPath('hosts', [$host]);
})->with([['WWW.Books.Test.', 'www.books.test'], ['http://books.test:8080/a?b#c', 'books.test'], ['bücher.test', 'xn--bcher-kva.test'], ['192.0.2.7', '192.0.2.7']]);

it('changes settings for owners, and says since when each is as it is', function () {
    $key = ($this->make)()->json('key');
    $this->travel(3)->days();
    $changed = $this->as($this->maker, 'PUT', "/api/sites/{$key}/settings", siteRequest(['cookie_days' => 90, 'two_people' => true]))->assertOk();
    expect(array_keys($changed->json('since')))->toEqualCanonicalizing(['cookie_days', 'two_people'])->and($changed->json('since.cookie_days'))->toStartWith(now('UTC')->format('Y-m-d'));
    $before = file_get_contents(config('pellix.published')."/{$key}.js");
    $this->as($this->maker, 'PUT', "/api/sites/{$key}/settings", siteRequest(['hosts' => ['other.test'], 'cookie_days' => 90]))->assertOk();
    expect(file_get_contents(config('pellix.published')."/{$key}.js"))->not->toBe($before);
    $this->as($this->makePersonWho('publish', Site::query()->where('key', $key)->first()), 'PUT', "/api/sites/{$key}/settings", siteRequest())->assertForbidden();
    $entry = $this->as($this->maker, 'GET', "/api/sites/{$key}/logbook?thing=site")->json('entries');
    expect(array_merge(...array_map(fn (array $one): array => array_column($one['changes'], 'field'), $entry)))->toContain('cookie_days');
});

it('archives a site: nothing is taken for it, its pages get no file, and it can be taken back', function () {
    $key = ($this->make)()->json('key');
    $site = Site::query()->where('key', $key)->firstOrFail();
    $path = "/api/sites/{$key}";
    $this->as($this->maker, 'POST', "{$path}/experiments", experimentRequest())->assertCreated();
    $site->experiments()->update(['state' => 'running']);
    $this->as($this->maker, 'PUT', "{$path}/archived")->assertStatus(422)->assertJsonValidationErrors('site');
    $site->experiments()->update(['state' => 'ended']);
    $this->as($this->maker, 'PUT', "{$path}/archived")->assertNoContent();
    expect(is_file(config('pellix.published')."/{$key}.js"))->toBeFalse();
    $this->as($this->maker, 'GET', "{$path}/experiments")->assertOk();
    $this->as($this->maker, 'POST', "{$path}/goals", ['name' => 'G', 'kind' => 'order'])->assertStatus(409);
    expect(sendTo($key, 'page_view', 'e-1')->status)->toBe(404);
    $this->as($this->maker, 'DELETE', "{$path}/archived")->assertNoContent();
    expect(is_file(config('pellix.published')."/{$key}.js"))->toBeTrue()->and(sendTo($key, 'page_view', 'e-1')->json['accepted'])->toBe(1);
    $this->as($this->maker, 'POST', "{$path}/goals", ['name' => 'G', 'kind' => 'order'])->assertCreated();
});

it('asks hosts whether they answer, and none inside of a private network', function () {
    $answers = new MockHandler([new GuzzleHttp\Exception\ConnectException('refused', new GuzzleHttp\Psr7\Request('GET', '/')), new Response(200, [], 'hello')]);
    $this->app->bind(PageFetcher::class, fn (): PageFetcher => new PageFetcher(new Client(['handler' => $answers]), false, ['books.localhost']));
    $this->as($this->maker, 'POST', '/api/host-checks', ['hosts' => ['books.localhost', 'inside.localhost']])->assertOk()
        ->assertJsonPath('0.answers', true)->assertJsonPath('0.words', 'http://books.localhost/ answers 200.')->assertJsonPath('1.answers', false)->assertJsonPath('1.words', fn (string $words): bool => str_contains($words, 'private network'));
    $this->as(User::factory()->create(), 'POST', '/api/host-checks', ['hosts' => ['books.localhost']])->assertForbidden();
    $this->as($this->maker, 'POST', '/api/host-checks', ['hosts' => ['a b']])->assertStatus(422)->assertJsonValidationErrors('hosts.0');
});

it('leads along the chain by evidence alone', function () {
    $key = ($this->make)()->json('key');
    $site = Site::query()->where('key', $key)->firstOrFail();
    $states = fn (): array => array_column($this->as($this->maker, 'GET', "/api/sites/{$key}/first-steps")->assertOk()->json(), 'state', 'step');
    expect(array_unique(array_values($states())))->toBe(['unseen']);
    $site->pages()->create(['url' => 'https://books.localhost/', 'hash' => str_repeat('a', 16), 'source' => 'typed', 'added_at' => now('UTC'), 'verdict' => 'broken', 'inspected_at' => now('UTC')]);
    expect($states()['snippet'])->toBe('broken');
    $site->pages()->update(['verdict' => 'sound']);
    expect(sendTo($key, 'page_view', 'e-1')->json['accepted'])->toBe(1);
    $this->gather($site);
    expect($states())->toMatchArray(['snippet' => 'holds', 'running' => 'holds', 'event' => 'unseen', 'goal' => 'unseen', 'experiment' => 'unseen', 'colleague' => 'unseen']);
    $this->as($this->maker, 'POST', "/api/sites/{$key}/goals", ['name' => 'Opened a brochure', 'kind' => 'event', 'event' => 'brochure_opened'])->assertCreated();
    sendTo($key, 'brochure_opened', 'e-2');
    $this->gather($site->refresh());
    $this->makePersonWho('look', $site);
    $this->as($this->maker, 'POST', "/api/sites/{$key}/first-steps/page", ['url' => 'https://elsewhere.test/'])->assertStatus(422)->assertJsonValidationErrors('url');
    expect($states())->toMatchArray(['event' => 'holds', 'goal' => 'holds', 'experiment' => 'unseen', 'colleague' => 'holds']);
});

it('gives out what was declared and the events, and deletes a site with everything, whatever table it is in', function () {
    $key = ($this->make)()->json('key');
    $site = Site::query()->where('key', $key)->firstOrFail();
    $other = $this->makeSite();
    $other->update(['hosts' => ['books.localhost']]);
    $path = "/api/sites/{$key}";
    $this->as($this->maker, 'POST', "{$path}/experiments", experimentRequest())->assertCreated();
    $this->as($this->maker, 'POST', "{$path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->as($this->maker, 'POST', "{$path}/invitations", ['email' => 'x@books.test', 'right' => 'look'])->assertCreated();
    foreach ([$key, $other->key] as $one) {
        sendTo($one, 'page_view', 'e-1');
        sendTo($one, 'brochure_opened', 'e-2');
    }
    $this->gather();
    $declared = $this->as($this->maker, 'GET', "{$path}/export.json")->assertOk()->assertDownload("{$key}.json")->json();
    expect($declared['experiments'][0]['key'])->toBe('shorter-words')->and($declared['goals'])->not->toBe([])->and(array_column(iterator_to_array((new App\Sites\SiteExport($site))->events(), false), 'name'))->toEqualCanonicalizing(['page_view', 'brochure_opened']);

    $this->as($this->maker, 'DELETE', $path, ['name' => 'Harbour Books'])->assertStatus(422);
    $this->as($this->maker, 'POST', "{$path}/experiments/shorter-words/stage", ['action' => 'end'])->assertOk();
    $this->as($this->maker, 'PUT', "{$path}/archived")->assertNoContent();
    $this->as($this->maker, 'DELETE', $path, ['name' => 'harbour books'])->assertStatus(422)->assertJsonValidationErrors('name');
    $this->as($this->maker, 'DELETE', $path, ['name' => 'Harbour Books'])->assertStatus(202);
    $this->as($this->maker, 'GET', $path)->assertNotFound();
    $this->as($this->maker, 'GET', '/api/session')->assertJsonPath('sites', []);
    // Whoever works on it still has a moment.
    $remover = app(App\Sites\SiteRemover::class);
    $remover->due(Carbon\CarbonImmutable::now('UTC'));
    expect(DB::table('events')->where('site_id', $site->id)->count())->toBe(2);
    $remover->due(Carbon\CarbonImmutable::now('UTC')->addMinutes(3));
    $left = [];
    foreach (DB::select("select c.table_name as name from information_schema.columns c join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name where c.table_schema = database() and c.column_name = 'site_id' and t.table_type = 'BASE TABLE'") as $table) {
        DB::table($table->name)->where('site_id', $site->id)->exists() && $left[] = $table->name;
    }
    foreach (['goal_hours', 'figures', 'readout_sums', 'readout_segments'] as $table) {
        DB::table($table)->whereNotIn('count_id', DB::table('counts')->select('id'))->exists() && $left[] = $table;
    }
    foreach (['experiment_goal', 'experiment_revisions', 'page_matches', 'glances', 'readout_lifts', 'rehearsal_plans', 'unfinished_drafts'] as $table) {
        DB::table($table)->whereNotIn('experiment_id', DB::table('experiments')->select('id'))->exists() && $left[] = $table;
    }
    expect($left)->toBe([])->and(Site::query()->find($site->id))->toBeNull()->and(DB::table('events')->where('site_id', $other->id)->count())->toBe(2)->and(User::query()->find($this->maker->id))->not->toBeNull()
        ->and(DB::table('security_events')->where('matter', 'site-deleted')->value('note'))->toBe("Harbour Books ({$key})");
});

<?php

use App\Collector\Answer;
use App\Collector\Collector;
use App\Collector\Limits;
use App\Models\Site;
use App\Models\SiteKey;
use App\Models\User;
use App\Sites\SiteKeys;
use Carbon\CarbonImmutable;
use Illuminate\Testing\TestResponse;

function pageView(string $key, string $id, array $props = [], string $address = '198.51.100.7', string $agent = 'Mozilla/5.0', ?Limits $limits = null, int $times = 1): Answer
{
    $now = new DateTimeImmutable('now', new DateTimeZone('UTC'));

    return (new Collector(DB::connection()->getPdo(), $limits))->take((string) json_encode(['pellix' => 1, 'site' => $key, 'events' => array_fill(
        0,
        $times,
        ['id' => $id, 'visitor' => 'v1', 'name' => 'page_view', 'time' => $now->format('Y-m-d\TH:i:s\Z'), 'url' => 'https://larkhollow.localhost/join', 'referrer' => '', 'props' => (object) $props],
    )]), $agent, $now, address: $address);
}

beforeEach(function () {
    $this->site = Site::factory()->create(['hosts' => ['larkhollow.localhost']]);
    $this->owner = User::factory()->create();
    $this->site->users()->attach($this->owner, ['right' => 'own']);
    $this->old = $this->site->key;
    $this->ask = fn (string $method, string $path, array $body = []): TestResponse => $this->as($this->owner, $method, "/api/sites/{$this->old}{$path}", $body);
    app(App\Publishing\Publisher::class)->publish($this->site);
});

it('replaces a key: for a while both count, each page by its own file, and addresses go on to lead to the site', function () {
    $new = ($this->ask)('POST', '/keys', ['days' => 30])->assertCreated()->json('key');
    $file = fn (string $key): string => (string) @file_get_contents(config('pellix.published')."/{$key}.js");
    expect($new)->toMatch('/\Aplx_[a-z0-9]{16}\z/')->not->toBe($this->old)
        ->and($file($new))->toContain("\"site\":\"{$new}\"")->not->toContain($this->old)->and($file($this->old))->toContain("\"site\":\"{$this->old}\"")->not->toContain($new)
        ->and(pageView($this->old, 'e1')->json['accepted'])->toBe(1)->and(pageView($new, 'e2')->json['accepted'])->toBe(1)->and(pageView($new, 'e1')->json['repeated'])->toBe(1)
        ->and(DB::table('events')->where('site_id', $this->site->id)->count())->toBe(2);
    // What is published later reaches the pages with either.
    ($this->ask)('PUT', '/settings', ['name' => 'L', 'hosts' => ['larkhollow.localhost'], 'time_zone' => 'Europe/Lisbon', 'currency' => 'EUR', 'cookie_days' => 99])->assertOk();
    expect($file($new))->toContain('"cookieSeconds":8553600')->and($file($this->old))->toContain('"cookieSeconds":8553600');
    $earlier = ($this->ask)('GET', '/keys')->assertOk()->assertJsonPath('key', $new)->json('earlier.0');
    expect($earlier['key'])->toBe($this->old)->and($earlier['counts'])->toBeTrue()->and($earlier['last_page'])->toBe('https://larkhollow.localhost/join')->and($earlier['last'])->not->toBeNull();
    expect(DB::table('security_events')->where('matter', 'key-replaced')->value('note'))->toBe("{$this->old} is replaced by {$new}");
});

it('ends a key when its time is over: its beacons are refused with the reason, and its file is gone', function () {
    $new = ($this->ask)('POST', '/keys', ['days' => 1])->json('key');
    SiteKey::query()->where('key', $this->old)->update(['ends_at' => CarbonImmutable::now('UTC')->subMinute()]);
    app(SiteKeys::class)->due(CarbonImmutable::now('UTC'));
    $answer = pageView($this->old, 'e1');
    expect($answer->status)->toBe(410)->and($answer->json['error'])->toBe('key-ended')->and(DB::table('rejected_events')->where('site_id', $this->site->id)->value('reason'))->toBe('key-ended')
        ->and(is_file(config('pellix.published')."/{$this->old}.js"))->toBeFalse()->and(pageView($new, 'e1')->json['accepted'])->toBe(1);
    // It can be opened again, and ended at once.
    ($this->ask)('PUT', "/keys/{$this->old}", ['days' => 3])->assertOk()->assertJsonPath('earlier.0.counts', true);
    expect(pageView($this->old, 'e2')->json['accepted'])->toBe(1)->and(is_file(config('pellix.published')."/{$this->old}.js"))->toBeTrue();
    ($this->ask)('PUT', "/keys/{$this->old}", ['days' => 0])->assertOk()->assertJsonPath('earlier.0.counts', false);
    expect(pageView($this->old, 'e3')->status)->toBe(410)->and(is_file(config('pellix.published')."/{$this->old}.js"))->toBeFalse();
    ($this->ask)('PUT', '/keys/plx_aaaaaaaaaaaaaaaa', ['days' => 0])->assertNotFound();
    ($this->ask)('PUT', "/keys/{$this->old}", ['days' => 401])->assertStatus(422)->assertJsonValidationErrors('days');
});

it('lets whoever goes on with an ended key use up a limit of their own, and nothing of the pages’', function () {
    $new = ($this->ask)('POST', '/keys', ['days' => 0])->json('key');
    File::makeDirectory($folder = sys_get_temp_dir().'/pellix-'.bin2hex(random_bytes(6)));
    // One event a second, and twenty at once.
    $limits = Limits::of($folder, 1);
    expect(pageView($this->old, 'o1', limits: $limits, times: 20)->status)->toBe(410)->and(pageView($this->old, 'o2', limits: $limits, times: 20)->status)->toBe(429)
        ->and(DB::table('rejected_events')->where('site_id', $this->site->id)->count())->toBe(1)
        ->and(pageView($new, 'n1', limits: $limits, times: 20)->json['accepted'])->toBe(1);
    File::deleteDirectory($folder);
});

it('replaces a key under content that was put back, and no more than five times at once', function () {
    app(App\Publishing\Publisher::class)->publish(tap($this->site)->update(['cookie_days' => 77]));
    ($this->ask)('POST', '/publications/1/restore')->assertSuccessful();
    foreach (range(1, 5) as $i) {
        $new = ($this->ask)('POST', '/keys', ['days' => 30])->assertCreated()->json('key');
    }
    expect((string) file_get_contents(config('pellix.published')."/{$new}.js"))->toContain("\"site\":\"{$new}\"")->toContain('"cookieSeconds":1296000')->and($this->site->refresh()->held_publication)->not->toBeNull();
    ($this->ask)('POST', '/keys', ['days' => 30])->assertStatus(422)->assertJsonValidationErrors('ends_at');
});

it('tells on a page that it carries the earlier key, and takes it as the site’s own', function () {
    $snippet = $this->site->snippet();
    ($this->ask)('POST', '/keys', ['days' => 30])->assertCreated();
    $found = ($this->ask)('POST', '/inspections', ['html' => "<!doctype html><html><head><meta charset=utf-8><title>x</title>{$snippet}</head><body></body></html>"])->assertOk()->json('findings');
    expect(array_column($found, 'code'))->toContain('snippet.earlier-key')->not->toContain('snippet.wrong-key')->not->toContain('snippet.missing');
});

it('keeps own people apart by address, user agent, mark and rule, and counts nothing of them', function () {
    $rules = ['addresses' => [['range' => '192.0.2.77/24', 'note' => 'Office']], 'agents' => ['uptime-check'], 'rule' => ['fact' => 'event.props.staff', 'op' => 'is', 'value' => true]];
    ($this->ask)('PUT', '/internal-traffic', $rules)->assertOk()->assertJsonPath('addresses.0.range', '192.0.2.0/24');
    $token = ($this->ask)('POST', '/internal-traffic/marks', ['name' => 'Ana'])->assertCreated()->json('marks.0.token');
    ($this->ask)('GET', '/settings')->assertJsonPath('since.internal', fn (?string $at): bool => $at !== null)->assertJsonMissingPath('since.consent_mode');
    pageView($this->old, 'e1', address: '192.0.2.3');
    expect(pageView($this->old, 'e1', address: '192.0.2.3')->json)->toMatchArray(['accepted' => 0, 'repeated' => 1]);
    pageView($this->old, 'e2', agent: 'Uptime-Check 3');
    pageView($this->old, 'e3', ['plx_own' => $token]);
    pageView($this->old, 'e4', ['staff' => true]);
    expect(pageView($this->old, 'e5', ['plx_own' => strrev($token)])->json['accepted'])->toBe(1)
        ->and(DB::table('events')->where('site_id', $this->site->id)->pluck('event_id')->all())->toBe(['e5'])->and(DB::table('own_events')->orderBy('event_id')->pluck('event_id')->all())->toBe(['e1', 'e2', 'e3', 'e4']);
    $this->gather($this->site);
    expect(DB::table('visitors')->where('site_id', $this->site->id)->count())->toBe(1);
    expect(array_column(($this->ask)('GET', '/internal-traffic')->json('seen'), 'n', 'reason'))->toEqual(['address' => 2, 'agent' => 1, 'mark' => 1, 'rule' => 1]);
    ($this->ask)('GET', '/feed?own=1')->assertOk()->assertJsonCount(4, 'events');
    ($this->ask)('PUT', '/internal-traffic', [...$rules, 'rule' => null])->assertOk()->assertJsonPath('marks.0.name', 'Ana');
    ($this->ask)('DELETE', "/internal-traffic/marks/{$token}")->assertOk()->assertJsonPath('marks', []);
    ($this->ask)('DELETE', "/internal-traffic/marks/{$token}")->assertNotFound();
    expect(pageView($this->old, 'e6', ['plx_own' => $token, 'staff' => true])->json['accepted'])->toBe(1);
    ($this->ask)('PUT', '/internal-traffic', ['addresses' => [['range' => '0.0.0.0/0', 'note' => '']]])->assertStatus(422)->assertJsonValidationErrors('addresses.0.range');
    // Of addresses nothing is kept, and of marks the Logbook tells the names alone.
    expect((string) json_encode(DB::table('own_events')->get()))->not->toContain('192.0.2.3')->and((string) json_encode(DB::table('activity_log')->get()))->not->toContain($token);
});

it('holds no beacon up when rules cannot be read any more, and lets the oldest go where there is too much', function () {
    $this->site->update(['internal' => ['addresses' => [['range' => 'x']]]]);
    expect(pageView($this->old, 'e1', address: '192.0.2.3')->json['accepted'])->toBe(1);
    ($this->ask)('GET', '/internal-traffic')->assertOk()->assertJsonPath('addresses', []);
    $this->site->update(['internal' => ['addresses' => [['range' => '192.0.2.0/24']]]]);
    DB::statement('insert into own_events (site_id, event_id, time, received, props) select ?, concat("x", seq), now(), now(), "{}" from seq_1_to_20000', [$this->site->id]);
    expect(pageView($this->old, 'e2', address: '192.0.2.3')->status)->toBe(200)->and(DB::table('own_events')->where('event_id', 'e2')->exists())->toBeTrue()->and(DB::table('own_events')->where('event_id', 'x1')->exists())->toBeFalse()
        ->and(DB::table('own_events')->where('site_id', $this->site->id)->count())->toBe(19_001)->and((int) DB::table('own_counts')->sum('n'))->toBe(1);
});

<?php

use App\Models\KeptMail;
use App\Models\PublishRequest;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->path = "/api/sites/{$this->site->key}";
    $this->owner = $this->makePerson($this->site);
    $this->worker = $this->makePersonWho('work', $this->site);
    $this->publisher = $this->makePersonWho('publish', $this->site);
    $this->as($this->owner, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    $this->start = ['method' => 'POST', 'path' => 'experiments/shorter-words/stage', 'body' => ['action' => 'start', 'reason' => 'For a test']];
    $this->ask = fn (App\Models\User $who, array $what = []): Illuminate\Testing\TestResponse => $this->as($who, 'POST', "{$this->path}/requests", [...$this->start, 'note' => 'It is ready.', ...$what]);
    $this->agree = fn (App\Models\User $who, int $number, ?array $body = null): Illuminate\Testing\TestResponse => $this->as($who, 'POST', "{$this->path}/experiments/shorter-words/stage", $body ?? $this->start['body'], ['Pellix-Request' => (string) $number]);
});

it('says who may do what somebody may only prepare, and asks them', function () {
    $this->publisher->update(['name' => 'Tom']);
    $refused = $this->as($this->worker, 'POST', "{$this->path}/experiments/shorter-words/stage", $this->start['body'])->assertForbidden();
    expect($refused->json('ask'))->toContain('Tom');
    $asked = ($this->ask)($this->worker)->assertCreated()->assertJsonPath('title', 'Start “Shorter words”')->assertJsonPath('state', 'open');
    expect(array_column($asked->json('changes'), 'field'))->toContain('state')->and(KeptMail::query()->pluck('recipient')->all())->toEqualCanonicalizing([$this->owner->email, $this->publisher->email]);
    ($this->agree)($this->publisher, $asked->json('id'))->assertOk();
    expect($this->site->experiments()->value('state'))->toBe('running');
    $this->as($this->worker, 'GET', "{$this->path}/requests")->assertOk()->assertJsonPath('0.state', 'done')->assertJsonPath('0.decider', 'Tom')->assertJsonPath('0.is_yours', true);
    ($this->agree)($this->publisher, $asked->json('id'))->assertStatus(409);
    expect(KeptMail::query()->where('recipient', $this->worker->email)->value('subject'))->toContain('has agreed to')
        ->and($this->as($this->owner, 'GET', "{$this->path}/security-log?matter=published")->json('entries.0'))->toMatchArray(['person' => 'Tom', 'note' => 'Start “Shorter words”']);
});

it('lets nobody publish alone on a site that wants two people, with a token neither, and stops at once', function () {
    $this->site->update(['two_people' => true]);
    $start = fn (App\Models\User $who): Illuminate\Testing\TestResponse => $this->as($who, 'POST', "{$this->path}/experiments/shorter-words/stage", $this->start['body']);
    $start($this->owner)->assertForbidden()->assertJsonPath('ask', fn (array $names): bool => count($names) === 1);
    $asked = ($this->ask)($this->owner)->json('id');
    ($this->agree)($this->owner, $asked)->assertForbidden();
    $token = $this->as($this->publisher, 'POST', '/api/tokens', ['name' => 't', 'site' => $this->site->key, 'right' => 'publish', 'days' => 2])->json('secret');
    $this->signedOut()->withToken($token)->postJson("{$this->path}/wiring/versions", ['note' => 'x'])->assertForbidden();
    $this->flushHeaders();
    ($this->agree)($this->publisher, $asked)->assertOk();
    // Tags, script changes and what running experiments do, too.
    foreach ([['POST', 'wiring/versions', ['note' => 'x']], ['POST', 'publications', []], ['PUT', 'experiments/shorter-words', experimentRequest(['share' => 0.5])], ['PUT', 'capture', ['data_layer' => 'shelf', 'data_events' => [], 'consent_mode' => 'none', 'honour_gpc' => false, 'session_minutes' => 30]]] as [$method, $path, $body]) {
        $this->as($this->owner, $method, "{$this->path}/{$path}", $body)->assertForbidden();
    }
    $this->as($this->owner, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'pause'])->assertOk();
    $this->as($this->owner, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'resume'])->assertForbidden();
});

it('is not talked out of two people by saying the same in another way', function () {
    $this->as($this->owner, 'POST', "{$this->path}/experiments/shorter-words/stage", $this->start['body'])->assertOk();
    $this->site->update(['two_people' => true]);
    $experiment = "{$this->path}/experiments/shorter-words";
    $this->as($this->owner, 'GET', '/api/session');
    $this->json('PATCH', $experiment, experimentRequest(['share' => 0.5]))->assertForbidden();
    $this->as($this->owner, 'POST', "{$experiment}/stage?keep=short", ['action' => 'end'])->assertForbidden();
    $this->as($this->owner, 'PUT', "{$experiment}/kept?variant=short")->assertForbidden();
    $this->signedOut();
    $this->as($this->owner, 'GET', '/api/session');
    $this->call('POST', "{$experiment}/stage", ['action' => 'end', 'keep' => 'short'], server: ['HTTP_ACCEPT' => 'application/json'])->assertForbidden();
    $this->as($this->owner, 'POST', "{$this->path}/experiments/shorter%2Dwords/stage?keep=short", ['action' => 'end'])->assertForbidden();
    expect($this->site->experiments()->first()->only('state', 'share', 'kept_variant'))->toMatchArray(['state' => 'running', 'kept_variant' => null]);
    // Stopping needs nobody, however it is said.
    $this->as($this->owner, 'POST', "{$experiment}/stage", ['action' => 'end'])->assertOk();
});

it('does only what was asked for, while it is what it was', function () {
    $this->site->update(['two_people' => true]);
    $asked = ($this->ask)($this->owner)->json('id');
    ($this->agree)($this->publisher, $asked, ['action' => 'start', 'reason' => 'For something else'])->assertStatus(409);
    $this->as($this->publisher, 'POST', "{$this->path}/publications", [], ['Pellix-Request' => (string) $asked])->assertStatus(409);
    ($this->agree)($this->publisher, 999_999)->assertStatus(409);
    // Whoever agrees has seen another draft.
    $this->as($this->worker, 'PUT', "{$this->path}/experiments/shorter-words", experimentRequest(['share' => 0.3]))->assertOk();
    ($this->agree)($this->publisher, $asked)->assertStatus(409)->assertJsonPath('message', fn (string $m): bool => str_contains($m, 'has changed since'));
    expect($this->site->experiments()->value('state'))->toBe('draft')->and(PublishRequest::query()->value('state'))->toBe('open');
    // What fails leaves the request open.
    $ended = ($this->ask)($this->worker, ['body' => ['action' => 'resume']])->json('id');
    ($this->agree)($this->publisher, $ended, ['action' => 'resume'])->assertStatus(422);
    expect(PublishRequest::query()->find($ended)->state)->toBe('open');
});

it('publishes tags as the answer to a request that shows what changes', function () {
    $this->site->update(['two_people' => true]);
    $tag = ['key' => 'hello', 'name' => 'Hello', 'kind' => 'script', 'code' => 'x()', 'consent' => 'necessary', 'triggers' => [['kind' => 'page', 'pages' => ['all' => []]]]];
    $this->as($this->worker, 'PUT', "{$this->path}/wiring/tags", ['revision' => 0, 'tags' => [$tag]])->assertOk();
    $asked = ($this->ask)($this->worker, ['path' => 'wiring/versions', 'body' => ['note' => 'First tags']])->assertCreated()->json();
    expect((string) json_encode($asked['changes']))->toContain('x()');
    $this->as($this->publisher, 'POST', "{$this->path}/wiring/versions", ['note' => 'First tags'], ['Pellix-Request' => (string) $asked['id']])->assertSuccessful();
    expect($this->site->wiringVersions()->count())->toBe(1);
});

it('refuses and withdraws requests, and asks for nothing else', function () {
    $asked = ($this->ask)($this->worker)->json('id');
    $this->as($this->makePersonWho('work', $this->site), 'DELETE', "{$this->path}/requests/{$asked}")->assertForbidden();
    $this->as($this->publisher, 'DELETE', "{$this->path}/requests/{$asked}", ['answer' => 'Not before Monday.'])->assertOk()->assertJsonPath('state', 'refused')->assertJsonPath('answer', 'Not before Monday.');
    $this->as($this->publisher, 'DELETE', "{$this->path}/requests/{$asked}")->assertStatus(409);
    $own = ($this->ask)($this->worker)->json('id');
    $this->as($this->worker, 'DELETE', "{$this->path}/requests/{$own}")->assertOk()->assertJsonPath('state', 'withdrawn');
    foreach ([['path' => 'people/1', 'method' => 'PUT'], ['path' => '../../account/password', 'method' => 'PUT'], ['path' => 'experiments/x/y/stage'], ['method' => 'DELETE'], ['body' => 'x']] as $odd) {
        ($this->ask)($this->worker, $odd)->assertStatus(422);
    }
    $this->as($this->makePersonWho('look', $this->site), 'POST', "{$this->path}/requests", $this->start)->assertForbidden();
});

it('lets what browsers watch for a goal wait for the second person', function () {
    $this->site->update(['two_people' => true]);
    $goal = fn (string $key): array => ['key' => $key, 'name' => $key, 'kind' => 'seen', 'selector' => "#{$key}", 'count' => 'visitor'];
    $watched = fn (string $key): bool => str_contains((string) @file_get_contents(config('pellix.published')."/{$this->site->key}.js"), "#{$key}");
    $this->as($this->owner, 'POST', "{$this->path}/goals", $goal('offer'))->assertCreated();
    expect($watched('offer'))->toBeFalse();
    $asked = $this->as($this->owner, 'POST', "{$this->path}/requests", ['method' => 'POST', 'path' => 'publications', 'body' => [], 'note' => ''])->assertCreated()->json('id');
    $this->as($this->publisher, 'POST', "{$this->path}/publications", [], ['Pellix-Request' => (string) $asked])->assertSuccessful();
    expect($watched('offer'))->toBeTrue();
    $this->site->update(['two_people' => false]);
    $this->as($this->worker, 'POST', "{$this->path}/goals", $goal('foot'))->assertCreated();
    expect($watched('foot'))->toBeFalse();
    $this->as($this->publisher, 'PUT', "{$this->path}/goals/offer", $goal('offer'))->assertOk();
    expect($watched('foot'))->toBeTrue();
});

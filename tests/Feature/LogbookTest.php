<?php

use App\Models\Activity;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
    $this->log = fn (string $query = '') => $this->as($this->person, 'GET', "{$this->path}/logbook{$query}")->assertOk();
});

it('has an entry of every kind of change, with what was before and after', function () {
    $goal = ['name' => 'Paid', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/paid']];
    $as = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "{$this->path}/{$path}", $body);
    $as('POST', 'goals', $goal)->assertStatus(201);
    $as('PUT', 'goals/paid', [...$goal, 'count' => 'every'])->assertOk();
    $as('PUT', 'events/book_order', ['meaning' => 'A book was ordered', 'sent_from' => '', 'schema' => ['type' => 'object'], 'examples' => []])->assertOk();
    $as('DELETE', 'events/book_order')->assertNoContent();
    $as('PUT', 'naming', ['pattern' => '{page}: {name}'])->assertOk();
    $as('PUT', 'page-groups', ['groups' => [['name' => 'Shop', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/shop'], 'snippet' => true]]])->assertOk();
    $as('PUT', 'capture', ['data_layer' => 'shelf', 'data_events' => [], 'consent_mode' => 'ask', 'honour_gpc' => true, 'session_minutes' => 20])->assertOk();
    $as('PUT', 'wiring/tags', ['revision' => 0, 'tags' => [['key' => 'hello', 'name' => 'Hello', 'kind' => 'script', 'code' => 'x()', 'consent' => 'necessary', 'triggers' => [['kind' => 'page', 'pages' => ['all' => []]]]]]])->assertOk();
    $as('POST', 'wiring/versions', ['note' => 'First'])->assertStatus(201);
    $as('POST', 'briefs', ['recipient' => 'The shop', 'days' => 7])->assertStatus(201);
    $as('POST', 'pages', ['addresses' => '/shop'])->assertStatus(201);
    $this->as($this->person, 'POST', '/api/tokens', ['name' => 'pipeline', 'site' => $this->site->key, 'right' => 'look', 'days' => 30])->assertStatus(201);
    $as('POST', 'experiments', experimentRequest())->assertStatus(201);
    $as('PUT', 'experiments/shorter-words', experimentRequest(['share' => 0.5]))->assertOk();
    $as('POST', 'experiments/shorter-words/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $as('PUT', 'experiments/shorter-words', experimentRequest(['share' => 0.25]))->assertOk();

    // Before all of them, the site was made by nobody who was signed in.
    $entries = array_slice(($this->log)()->json('entries'), 0, -1);
    $said = array_map(static fn (array $one): string => "{$one['thing']} {$one['key']} {$one['what']}", $entries);
    expect($said)->toContain(
        'goal paid created',
        'goal paid changed',
        'event book_order created',
        'event book_order deleted',
        'site plx_featuretests0001 changed',
        'tags tags changed',
        'tags tags published',
        'page typed added',
        'experiment shorter-words created',
        'experiment shorter-words changed',
        'experiment shorter-words started',
        "person {$this->person->id} token made",
        'goal joined created',
    )->and(implode(' ', $said))->toContain('brief')->and(array_unique(array_column($entries, 'person')))->toBe([$this->person->name])->and(array_unique(array_column($entries, 'from')))->toBe(['interface']);
    $of = static fn (string $what): array => array_column(array_values(array_filter($entries, static fn (array $one): bool => "{$one['thing']} {$one['what']}" === $what))[0]['changes'], null, 'field');
    expect($of('goal changed')['count'])->toBe(['field' => 'count', 'before' => 'visitor', 'after' => 'every'])
        ->and($of('experiment changed')['share'])->toBe(['field' => 'share', 'before' => 0.5, 'after' => 0.25])
        ->and($of('site changed')['consent_mode'])->toBe(['field' => 'consent_mode', 'before' => 'none', 'after' => 'ask'])
        ->and($of('site changed'))->toHaveKey('page_groups.Shop');
});

it('takes what one person changes in one go as one entry, and what came back to itself as none', function () {
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertStatus(201);
    foreach ([0.5, 0.4, 0.3] as $share) {
        $this->as($this->person, 'PUT', "{$this->path}/experiments/shorter-words", experimentRequest(['share' => $share]))->assertOk();
    }
    expect(Activity::query()->where('thing', 'experiment')->where('event', 'changed')->count())->toBe(1)
        ->and(($this->log)('?thing=experiment')->json('entries.0.changes'))->toBe([['field' => 'share', 'before' => 1, 'after' => 0.3]]);
    $this->as($this->person, 'PUT', "{$this->path}/experiments/shorter-words", experimentRequest())->assertOk();
    expect(Activity::query()->where('event', 'changed')->count())->toBe(0);
    $this->as($this->person, 'PUT', "{$this->path}/experiments/shorter-words", experimentRequest(['share' => 0.5]))->assertOk();
    $this->as($this->makePerson($this->site), 'PUT', "{$this->path}/experiments/shorter-words", experimentRequest(['share' => 0.4]))->assertOk();
    expect(Activity::query()->where('event', 'changed')->count())->toBe(2);
});

it('is read by thing, person and day, part by part, and given out as CSV', function () {
    $this->site->update(['time_zone' => 'Pacific/Auckland']);
    Activity::query()->delete();
    for ($i = 0; $i < 120; $i++) {
        Activity::query()->forceCreate(['site_id' => $this->site->id, 'log_name' => 'api', 'description' => $i === 0 ? '=1+1' : '', 'event' => 'changed', 'properties' => ['changes' => [['field' => 'name', 'before' => "A,\"{$i}", 'after' => null]]], 'thing' => $i % 2 === 0 ? 'goal' : 'site', 'thing_key' => "k{$i}", 'thing_name' => 'N', 'person' => $i % 3 === 0 ? 'Ana' : 'Tom', 'created_at' => '2026-03-01 11:30:00']);
    }
    $first = ($this->log)();
    expect($first->json('entries'))->toHaveCount(50)->and($first->json('people'))->toBe(['Ana', 'Tom'])
        ->and(($this->log)("?before={$first->json('next')}")->json('entries.0.key'))->toBe('k69')
        ->and(($this->log)('?thing=goal&person=Ana')->json('entries'))->toHaveCount(20)->and(($this->log)('?key=k7')->json('entries'))->toHaveCount(1)
        // Half past eleven in the evening of 1 March in London is 2 March in Auckland.
        ->and(($this->log)('?from=2026-03-02&to=2026-03-02')->json('entries'))->toHaveCount(50)->and(($this->log)('?to=2026-03-01')->json('entries'))->toBe([]);
    $this->as($this->person, 'GET', "{$this->path}/logbook?thing=nothing")->assertStatus(422);
    $csv = $this->actingAs($this->person, 'sanctum')->get("{$this->path}/logbook.csv?thing=goal")->assertOk()->streamedContent();
    expect(substr_count($csv, "\r\n"))->toBe(61)->and($csv)->toContain('"A,""118"')->toContain("'=1+1")->toContain('2026-03-02T00:30:00+13:00');
    $this->as($this->makePerson(), 'GET', "{$this->path}/logbook")->assertStatus(404);
});

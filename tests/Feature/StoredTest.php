<?php

use Illuminate\Support\Facades\DB;

/*
 * What may be kept becomes narrower with time, and a disk or a hand may change what is kept: whatever cannot be read any more
 * says so at its own place, and leaves the rest alone.
 */

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    $tag = ['key' => 'note', 'name' => 'Note', 'kind' => 'script', 'code' => 'x()', 'consent' => 'necessary', 'once' => 'page', 'triggers' => [['kind' => 'page', 'pages' => ['all' => []]]]];
    ($this->call)('PUT', '/wiring/tags', ['revision' => 0, 'tags' => [$tag, [...$tag, 'key' => 'waits', 'after' => 'note'], [...$tag, 'key' => 'alone']]])->assertOk();
    ($this->call)('POST', '/wiring/versions', ['note' => 'First'])->assertCreated();
    ($this->call)('PUT', '/page-groups', ['groups' => [
        ['name' => 'Shop', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/shop'], 'snippet' => true], ['name' => 'Rest', 'pages' => ['all' => []], 'snippet' => true],
    ]])->assertOk();
    ($this->call)('PUT', '/events/loan', ['meaning' => 'A loan', 'schema' => ['properties' => ['n' => ['type' => 'integer']]], 'examples' => [['n' => 1]]])->assertOk();
    ($this->call)('POST', '/goals', ['key' => 'ready', 'name' => 'Ready', 'kind' => 'page', 'count' => 'every', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']])->assertCreated();
    ($this->call)('POST', '/experiments', fullFile())->assertCreated();
    $this->keep = function (string $table, string $column, mixed $json): void {
        DB::table($table)->update([$column => is_string($json) ? $json : json_encode($json)]);
    };
});

it('answers every view, whatever stands in the database', function (string $table, string $column) {
    $views = ['', '/experiments', '/experiments/loan-steps', '/experiments/loan-steps/file', '/experiments/loan-steps/revisions', '/experiments/loan-steps/observations', '/pages', '/pages.csv', '/page-groups', '/wiring',
        '/wiring/versions/1/differences?against=0', '/experiments/loan-steps/readout', '/experiments/loan-steps/plan', '/decisions', '/goals', '/goals/ready', '/events', '/events/loan', '/plan.json', '/plan.csv', '/feed', '/capture', '/chains'];
    foreach (['[]', '{}', '17', '"x"', 'null', '[null]', '[{"kind":"none"}]', '{"fact":"none","op":"is","value":1}', '{"fact":"url.path","op":"matches","value":"(a+)+$"}', '[{"key":"note"}]'] as $json) {
        ($this->keep)($table, $column, $json);
        foreach ($views as $view) {
            // Not held to the API's schemas, as garbage is not.
            expect($this->actingAs($this->person)->getJson("/api/sites/{$this->site->key}{$view}")->getStatusCode())->toBeLessThan(500, "{$table}.{$column} = {$json}, {$view}");
        }
    }
})->with([
    ['experiments', 'decision'], ['experiments', 'pages'], ['experiments', 'audience'], ['experiments', 'trigger'], ['experiments', 'variants'], ['experiment_revisions', 'declared'], ['goals', 'definition'], ['goal_revisions', 'definition'],
    ['sites', 'tags'], ['sites', 'page_groups'], ['sites', 'data_events'], ['sites', 'page_parameters'], ['wiring_versions', 'tags'], ['event_definitions', 'schema'], ['event_definitions', 'examples'],
]);

it('says at its place which tag cannot be read, publishes the others, and keeps it until it is mended', function () {
    $tags = json_decode((string) DB::table('sites')->value('tags'), true);
    $tags[0]['triggers'][0]['pages'] = ['fact' => 'url.path', 'op' => 'matches', 'value' => '(a+)+$'];
    ($this->keep)('sites', 'tags', $tags);
    ($this->keep)('wiring_versions', 'tags', $tags);
    $shown = ($this->call)('GET', '/wiring')->assertOk()->json();
    expect(array_keys($shown['faults']))->toBe(['note', 'waits'])->and($shown['faults']['note'])->toContain('triggers.0.pages')->and($shown['faults']['waits'])->toContain('waits for "note"')
        ->and(array_column($shown['tags'], 'key'))->toBe(['note', 'waits', 'alone']);
    ($this->call)('POST', '/wiring/versions', ['note' => 'Again'])->assertStatus(422)->assertJsonPath('errors.note.0', fn (string $text): bool => str_contains($text, '"note" cannot be read'));
    app(App\Publishing\Publisher::class)->publish($this->site->refresh());
    expect((string) file_get_contents(config('pellix.published')."/{$this->site->key}.js"))->toContain('"alone"')->not->toContain('"waits"');
});

it('says which group of pages cannot be read, and sorts by the others', function () {
    $groups = json_decode((string) DB::table('sites')->value('page_groups'), true);
    $groups[0]['pages'] = ['fact' => 'none', 'op' => 'is', 'value' => 1];
    ($this->keep)('sites', 'page_groups', $groups);
    $shown = ($this->call)('GET', '/page-groups')->assertOk()->json();
    expect($shown[0]['fault'])->toContain('fact')->and($shown[0]['name'])->toBe('Shop')->and($shown[1])->not->toHaveKey('fault');
    ($this->call)('POST', '/pages', ['addresses' => '/shop'])->assertSuccessful();
    expect(($this->call)('GET', '/pages')->assertOk()->json('pages.0.group'))->toBe('Rest');
});

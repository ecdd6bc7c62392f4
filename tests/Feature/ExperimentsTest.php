<?php

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}/experiments";
});

it('makes a draft that visitors do not meet', function () {
    $made = $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201);
    expect($made->json('key'))->toBe('shorter-words')->and($made->json('state'))->toBe('draft')->and($made->json('actions'))->toBe(['start', 'schedule'])
        ->and($made->json('goals.0.key'))->toBe('joined')->and(published($this->site) ?? [])->toBe([]);
    $this->as($this->person, 'GET', $this->path)->assertOk()->assertJsonCount(1);
});

it('puts the complaint at the field', function (array $change, string $field) {
    $this->as($this->person, 'POST', $this->path, experimentRequest($change))->assertStatus(422)->assertJsonValidationErrors($field);
    expect($this->site->experiments()->count())->toBe(0);
})->with([
    [['name' => ''], 'name'],
    [['name' => ['x']], 'name'],
    [['share' => 1.5], 'share'],
    [['share' => 'all'], 'share'],
    [['pages' => ['value' => 'https://shop.test/join']], 'pages.value'],
    [['pages' => ['op' => 'matches', 'value' => '(a+)+']], 'pages.value'],
    [['pages' => 'all'], 'pages'],
    [['variants' => [1 => ['weight' => -5]]], 'variants.1.weight'],
    [['variants' => [0 => ['weight' => 0], 1 => ['weight' => 0]]], 'variants'],
    [['variants' => [1 => ['changes' => [['selector' => '']]]]], 'variants.1.changes.0.selector'],
    [['variants' => [1 => 'short']], 'variants.1'],
    [['goals' => [['name' => '']]], 'goals.0.name'],
    [['goals' => [['pages' => ['value' => 'done']]]], 'goals.0.pages.value'],
    [['key' => 'Not a key'], 'key'],
]);

it('answers any body with a complaint, never with an error of its own', function () {
    mt_srand(7);
    $values = [null, true, 7, 'x', [], [[]], ['a' => 1], [null, null], str_repeat('x', 300), -1, '1e999'];
    foreach (range(1, 150) as $i) {
        $body = experimentRequest();
        foreach (range(1, mt_rand(1, 3)) as $_) {
            $place = &$body;
            $keys = array_keys($place);
            while ($keys !== [] && mt_rand(0, 2) > 0 && is_array($place[$keys[0]] ?? null)) {
                $place = &$place[$keys[array_rand($keys)]];
                $keys = is_array($place) ? array_keys($place) : [];
            }
            if (is_array($place) && $place !== []) {
                $place[array_rand($place)] = $values[array_rand($values)];
            }
            unset($place);
        }
        expect($this->actingAs($this->person, 'sanctum')->postJson($this->path, $body)->getStatusCode())->toBeIn([201, 422], json_encode($body));
    }
});

it('takes each key once per site', function () {
    $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201);
    $this->as($this->person, 'POST', $this->path, experimentRequest(['key' => 'shorter-words']))->assertStatus(422)->assertJsonValidationErrors('key');
    // A key that follows from the name is made another.
    $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201)->assertJsonPath('key', 'shorter-words-2');
});

it('uses a goal of the site again only if it says the same', function () {
    $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201);
    $this->as($this->person, 'POST', $this->path, experimentRequest(['name' => 'Another']))->assertStatus(201);
    expect($this->site->goals()->count())->toBe(1);
    $this->as($this->person, 'POST', $this->path, experimentRequest(['name' => 'Third', 'goals' => [['pages' => ['value' => '/other']]]]))
        ->assertStatus(422)->assertJsonValidationErrors('goals.0.name');
    expect($this->site->experiments()->count())->toBe(2);
});

it('changes and deletes drafts only', function () {
    $this->as($this->person, 'POST', $this->path, experimentRequest());
    $this->as($this->person, 'PUT', "{$this->path}/shorter-words", experimentRequest(['name' => 'Shortest words', 'share' => 0.5]))->assertOk()->assertJsonPath('name', 'Shortest words');
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->as($this->person, 'DELETE', "{$this->path}/shorter-words")->assertStatus(409);
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => 'end'])->assertOk();
    $this->as($this->person, 'PUT', "{$this->path}/shorter-words", experimentRequest())->assertStatus(409);
    $this->as($this->person, 'POST', $this->path, experimentRequest(['name' => 'Second']));
    $this->as($this->person, 'DELETE', "{$this->path}/second")->assertNoContent();
    $this->as($this->person, 'GET', "{$this->path}/second")->assertStatus(404);
});

it('publishes what runs, and only while it runs', function () {
    $this->as($this->person, 'POST', $this->path, experimentRequest());
    $move = fn (string $action) => $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => $action, 'reason' => 'For a test']);
    $move('start')->assertOk()->assertJsonPath('state', 'running');
    expect(array_column(published($this->site), 'key'))->toBe(['shorter-words']);
    $move('start')->assertStatus(422)->assertJsonValidationErrors('action');
    $move('pause')->assertOk();
    expect(published($this->site))->toBe([]);
    $move('resume')->assertOk();
    expect(published($this->site))->toHaveCount(1);
    $move('end')->assertOk()->assertJsonPath('actions', ['archive']);
    expect(published($this->site))->toBe([]);
    $move('fly')->assertStatus(422);
});

it('gives out the experiment file that the commands read', function () {
    $this->as($this->person, 'POST', $this->path, experimentRequest());
    $file = $this->as($this->person, 'GET', "{$this->path}/shorter-words/file")->assertOk();
    $read = Pellix\Core\Experiments\Experiment::read($file->json());
    expect($read->key)->toBe('shorter-words')->and($file->headers->get('Content-Disposition'))->toContain('shorter-words.experiment.json');
});

<?php

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}/experiments";
    $this->make = fn (string $key, float $share, array $change = []) => $this->as($this->person, 'POST', $this->path, [...fullFile(), 'key' => $key, 'name' => $key, 'share' => $share, 'salt' => "salt of {$key}", 'unit' => 'visitor', 'group' => ['key' => 'loans'], ...$change])->assertCreated();
    $this->move = fn (string $key, string $action) => $this->as($this->person, 'POST', "{$this->path}/{$key}/stage", ['action' => $action, 'reason' => 'For a test']);
    $this->published = fn (): array => array_column(json_decode(preg_replace('/\Awindow\.pellixSite=(.*?);\n.*\z/s', '$1', (string) file_get_contents(config('pellix.published')."/{$this->site->key}.js")), true)['experiments'], 'group', 'key');
});

it('gives each member of a group a stretch of its own when it starts, and says where there is no room', function () {
    ($this->make)('one', 0.5);
    ($this->make)('two', 0.25);
    ($this->make)('three', 0.5);
    expect(($this->move)('one', 'start')->assertOk()->json('group'))->toEqual(['key' => 'loans', 'from' => 0])
        ->and(($this->move)('two', 'start')->assertOk()->json('group'))->toEqual(['key' => 'loans', 'from' => 0.5]);
    expect(($this->move)('three', 'start')->assertStatus(422)->json('errors.action.0'))->toContain('no room for a share of 50 %')->toContain('leave 25 %');
    expect(($this->published)())->toEqual(['one' => ['key' => 'loans', 'from' => 0], 'two' => ['key' => 'loans', 'from' => 0.5]]);

    // One that is paused may go on, so its stretch is nobody else's; one that is over has none.
    ($this->move)('one', 'pause')->assertOk();
    ($this->move)('three', 'start')->assertStatus(422);
    ($this->move)('one', 'end')->assertOk();
    expect(($this->move)('three', 'start')->assertOk()->json('group.from'))->toEqual(0);
});

it('lets a share grow as far as there is room, and nobody be moved', function () {
    ($this->make)('one', 0.25);
    ($this->make)('two', 0.25);
    ($this->move)('one', 'start')->assertOk();
    ($this->move)('two', 'start')->assertOk();
    $change = fn (string $key, array $change) => $this->as($this->person, 'PUT', "{$this->path}/{$key}", [...array_diff_key($this->as($this->person, 'GET', "{$this->path}/{$key}/file")->json(), ['epochs' => 0, 'start' => 0, 'end' => 0]), ...$change]);
    expect($change('one', ['share' => 0.5])->assertStatus(422)->json('errors.share.0'))->toContain('stay where they are');
    $change('two', ['share' => 0.75])->assertOk()->assertJsonPath('group', ['key' => 'loans', 'from' => 0.25]);
    $change('one', ['share' => 0.125])->assertOk();
    expect($change('one', ['group' => ['key' => 'others']])->assertStatus(422)->json('errors.group.0'))->toContain('stays in its group');
    $change('one', ['group' => ['key' => 'loans', 'from' => 0.9]])->assertOk()->assertJsonPath('group.from', 0);
});

it('refuses members that go by another unit, and groups that are none', function () {
    ($this->make)('one', 0.5);
    ($this->make)('two', 0.5, ['unit' => 'user']);
    ($this->move)('one', 'start')->assertOk();
    expect(($this->move)('two', 'start')->assertStatus(422)->json('errors.action.0'))->toContain('another unit');
    $this->as($this->person, 'POST', $this->path, [...fullFile(), 'key' => 'x', 'group' => ['key' => 'No Group']])->assertStatus(422)->assertJsonValidationErrors('group.key');
    $this->as($this->person, 'POST', $this->path, [...fullFile(), 'key' => 'x', 'group' => ['key' => 'a', 'of' => 1]])->assertStatus(422)->assertJsonValidationErrors('group.of');
});

<?php

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}/experiments";
    $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201);
    $this->path .= '/shorter-words';
    $this->sent = 0;
});

function start(object $test): void
{
    $test->as($test->person, 'POST', "{$test->path}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
}

it('says of a running experiment without data which link is unproven', function () {
    start($this);
    $this->gather();
    $seen = $this->as($this->person, 'GET', "{$this->path}/observations")->assertOk();
    expect($seen->json('chain.words'))->toContain('Nothing has been received from this experiment. First unproven link: Page.')
        ->and(array_unique(array_column($seen->json('chain.links'), 'state')))->toBe(['unseen'])
        ->and($seen->json('srm'))->toBeNull()->and($seen->json('variants.0.exposures.visitors'))->toBe(0);
});

it('counts exactly who was exposed to what, and who reached the goal afterwards', function () {
    visit($this, 'early', '/join', ['page_view', 'exposure'], 'control', '-1 minute');
    $this->travel(1)->seconds();
    start($this);
    $this->travel(5)->seconds();
    $all = ['page_view', 'exposure', 'change_applied'];
    visit($this, 'a', '/join', ['page_view', 'exposure'], 'control');
    visit($this, 'a', '/join', ['page_view', 'exposure'], 'control');
    visit($this, 'b', '/join?from=mail', $all, 'short');
    visit($this, 'goal-first', '/join/done');
    visit($this, 'outside', '/join');
    $this->travel(5)->seconds();
    visit($this, 'goal-first', '/join', $all, 'short');
    visit($this, 'b', '/join/done');
    visit($this, 'b', '/join/done');
    visit($this, 'outside', '/join/done');
    visit($this, 'changer', '/join', ['page_view', 'exposure'], 'control');
    visit($this, 'changer', '/join', $all, 'short');
    visit($this, 'changer', '/join/done');

    $this->gather();
    $seen = $this->as($this->person, 'GET', "{$this->path}/observations")->assertOk();
    $variants = array_column($seen->json('variants'), null, 'key');
    expect($variants['control']['exposures']['visitors'])->toBe(1)->and($variants['control']['exposures']['count'])->toBe(2)
        ->and($variants['short']['exposures']['visitors'])->toBe(2)
        ->and($seen->json('visitors'))->toBe(3)
        ->and($seen->json('crossed'))->toBe(1)
        ->and($seen->json('srm.observed'))->toBe([1, 2])->and($seen->json('srm.test'))->toBe('exact-binomial')
        ->and($seen->json('page_views.visitors'))->toBe(5)
        ->and($seen->json('entered.visitors'))->toBe(4);
    $goal = array_column($seen->json('goals.0.variants'), null, 'key');
    // Two hits of b; the one before the first exposure, the outsider's and the changer's do not count.
    expect($goal['short']['hits']['count'])->toBe(2)->and($goal['short']['hits']['visitors'])->toBe(1)->and($goal['short']['rate'])->toBe(0.5)
        ->and($goal['control']['hits']['count'])->toBe(0)
        ->and($seen->json('goals.0.everyone.count'))->toBe(5);
});

it('shows a new event at the next look', function () {
    start($this);
    $visitors = function (): int {
        $this->gather();

        return $this->as($this->person, 'GET', "{$this->path}/observations")->json('visitors');
    };
    expect($visitors())->toBe(0);
    $this->travel(1)->seconds();
    visit($this, 'a', '/join', ['page_view', 'exposure'], 'control');
    expect($visitors())->toBe(1);
});

it('counts nothing while an experiment is paused, and judges it as it stood', function () {
    start($this);
    $this->travel(10)->seconds();
    visit($this, 'a', '/join', ['page_view', 'exposure'], 'control');
    $this->travel(10)->seconds();
    $this->as($this->person, 'POST', "{$this->path}/stage", ['action' => 'pause'])->assertOk();
    $this->travel(10)->seconds();
    visit($this, 'b', '/join', ['page_view', 'exposure'], 'control');
    $this->travel(3)->days();
    $this->gather();
    $seen = $this->as($this->person, 'GET', "{$this->path}/observations")->assertOk();
    expect($seen->json('visitors'))->toBe(1)->and($seen->json('page_views.count'))->toBe(1)->and($seen->json('chain.links.0.state'))->toBe('holds');
    $this->as($this->person, 'POST', "{$this->path}/stage", ['action' => 'resume'])->assertOk();
    $this->travel(10)->seconds();
    visit($this, 'c', '/join', ['page_view', 'exposure'], 'control');
    $this->gather();
    expect($this->as($this->person, 'GET', "{$this->path}/observations")->json('visitors'))->toBe(2);
});

it('works assignments out again and notices strangers', function () {
    start($this);
    $this->travel(5)->seconds();
    $assigner = $this->site->experiments()->first()->declared()->assigner();
    visit($this, 'honest', '/join', ['page_view', 'exposure'], $assigner->assign('honest')->variant);
    visit($this, 'strange', '/join', ['page_view', 'exposure'], $assigner->assign('strange')->variant === 'short' ? 'control' : 'short');
    $this->gather();
    $seen = $this->as($this->person, 'GET', "{$this->path}/observations");
    expect($seen->json('recomputed'))->toBe(['checked' => 2, 'differing' => 1])->and($seen->json('chain.links.3.state'))->toBe('doubt');
});

it('keeps the sites apart', function () {
    start($this);
    $this->travel(5)->seconds();
    $own = $this->site;
    $this->site = $this->makeSite('plx_featuretests0002');
    visit($this, 'a', '/join', ['page_view', 'exposure'], 'control');
    $this->site = $own;
    $this->gather();
    expect($this->as($this->person, 'GET', "{$this->path}/observations")->json('visitors'))->toBe(0);
});

it('gives the Bench all chains at once', function () {
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/chains")->assertOk()->assertJsonPath('0.experiment', 'shorter-words')->assertJsonCount(7, '0.links');
});

it('has figures where one variant has all the weight, with nothing to test, and others beside it', function () {
    $variants = experimentRequest()['variants'];
    [$variants[0]['weight'], $variants[1]['weight']] = [0, 100];
    $this->as($this->person, 'PUT', $this->path, experimentRequest(['variants' => $variants]))->assertOk();
    $this->as($this->person, 'POST', dirname($this->path), experimentRequest(['name' => 'Second', 'key' => 'second']))->assertCreated();
    start($this);
    $this->as($this->person, 'POST', dirname($this->path).'/second/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->travel(5)->seconds();
    visit($this, 'a', '/join', ['page_view', 'exposure', 'change_applied'], 'short');
    $this->gather();
    $seen = $this->as($this->person, 'GET', "{$this->path}/observations")->assertOk();
    expect($seen->json('srm'))->toBeNull()->and($seen->json('visitors'))->toBe(1)->and($seen->json('can_alarm'))->toBeFalse()
        ->and(array_column($seen->json('chain.links'), 'words', 'link')['split'] ?? json_encode($seen->json('chain.links')))->toContain('One variant alone takes visitors in');

    expect($this->as($this->person, 'GET', dirname($this->path).'/second/observations')->assertOk()->json('page_views.count'))->toBe(1);

    // Somebody in the variant that nobody could be assigned to is a mismatch by itself.
    visit($this, 'b', '/join', ['page_view', 'exposure'], 'control');
    $this->gather();
    expect($this->as($this->person, 'GET', "{$this->path}/observations")->json('srm.verdict'))->toBe('mismatch');
});

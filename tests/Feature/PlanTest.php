<?php

use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

beforeEach(function () {
    $this->sent = 0;
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertStatus(201);
    $this->own = "{$this->path}/experiments/shorter-words";
    $this->plan = ['goal' => 'joined', 'measure' => 'rate', 'baseline' => 0.05, 'lift' => 0.1, 'weights' => [50, 50], 'daily' => 2000];
});

it('works a plan out, and refuses at its field what none can be made with', function () {
    $this->as($this->person, 'POST', "{$this->path}/plans", $this->plan)->assertOk()->assertJsonPath('outcome.per_variant', [31234, 31234])->assertJsonPath('outcome.weeks', 5)->assertJsonPath('curve.4.weeks', 5);
    foreach ([['baseline' => 2], ['baseline' => 'x'], ['weights' => 'x'], ['weights' => [1, 0]], ['lift' => 1e-9], ['made_by' => 'Me'], ['days' => 0], ['within' => [3, 1], 'daily' => null], ['nonsense' => 1]] as $change) {
        $this->as($this->person, 'POST', "{$this->path}/plans", [...$this->plan, ...$change])->assertStatus(422);
    }
    $this->as($this->makePersonWho('look', $this->site), 'POST', "{$this->path}/plans", $this->plan)->assertForbidden();
});

it('keeps who planned what before the start, and lets nobody plan it again after', function () {
    $this->as($this->person, 'GET', "{$this->own}/plan")->assertJsonPath('kept', null);
    $this->as($this->person, 'PUT', "{$this->own}/plan", $this->plan)->assertOk()->assertJsonPath('plan.made_by', $this->person->name);
    $this->as($this->person, 'GET', $this->own)->assertJsonPath('planned_days', 35)->assertJsonPath('has_plan', true);
    // What is written on the leaves leaves it alone, and the file has it.
    $this->as($this->person, 'PUT', $this->own, experimentRequest(['notes' => 'x']))->assertOk();
    $file = $this->as($this->person, 'GET', "{$this->own}/file")->assertOk()->json();
    expect($file['plan'])->toMatchArray(['baseline' => 0.05, 'made_by' => $this->person->name])->and(Pellix\Core\Experiments\Experiment::read($file)->toArray()['plan'])->toEqual($file['plan']);
    $this->as($this->person, 'POST', "{$this->own}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->as($this->person, 'PUT', "{$this->own}/plan", $this->plan)->assertStatus(409);
    $this->as($this->person, 'DELETE', "{$this->own}/plan")->assertStatus(409);
    $this->as($this->person, 'PUT', $this->own, experimentRequest(['plan' => ['baseline' => 0.2]]))->assertStatus(422)->assertJsonValidationErrors('plan');
    // One that began without may be given one, once.
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest(['key' => 'unplanned']))->assertStatus(201);
    $this->as($this->person, 'POST', "{$this->path}/experiments/unplanned/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->as($this->person, 'PUT', "{$this->path}/experiments/unplanned/plan", $this->plan)->assertOk();
    $this->as($this->person, 'PUT', "{$this->path}/experiments/unplanned/plan", $this->plan)->assertStatus(409);
});

it('measures what a plan can begin with: exactly these pages, this audience, and these goals', function () {
    $order = ['name' => 'Paid', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR'];
    $this->as($this->person, 'PUT', $this->own, experimentRequest(['goals' => [1 => [...$order, 'key' => 'paid', 'role' => 'secondary']]]))->assertOk();
    $at = fn (int $daysAgo, int $minute = 0): CarbonImmutable => CarbonImmutable::now('UTC')->subDays($daysAgo)->addMinutes($minute);
    $send = function (string $visitor, CarbonImmutable $time, string $path, string $name = 'page_view', array $props = []): void {
        $answer = (new App\Collector\Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => [
            ['id' => 'b'.++$this->sent, 'visitor' => $visitor, 'time' => $time->toIso8601ZuluString('millisecond'), 'name' => $name, 'url' => "http://shop.test{$path}", 'props' => (object) $props],
        ]]), 'test', $time);
        expect($answer->json['rejected'])->toBe([]);
    };
    foreach (range(0, 7) as $i) {
        // Four come in the first week, two in each of the next; the first two again in the last.
        $send("v{$i}", $at([27, 27, 27, 27, 20, 20, 13, 13][$i]), '/join');
    }
    $send('v0', $at(2), '/join');
    $send('v1', $at(2), '/join');
    $send('late', $at(40), '/join');
    $send('elsewhere', $at(3), '/other');
    // Before it would have entered counts for nobody; two reach the goal, one of them pays twice.
    $send('v5', $at(20, -5), '/join/done');
    $send('v0', $at(27, 5), '/join/done');
    $send('v4', $at(20, 5), '/join/done');
    $send('v0', $at(27, 6), '/pay', 'order', ['order_id' => 'a', 'value' => 30, 'currency' => 'EUR']);
    $send('v0', $at(27, 7), '/pay', 'order', ['order_id' => 'b', 'value' => 10, 'currency' => 'EUR']);
    $send('v2', $at(27, 1), '/join', 'engaged', ['seconds' => 5, 'view' => 'x']);
    $send('v2', $at(27, 2), '/join', 'engaged', ['seconds' => 20, 'view' => 'x']);
    $this->gather($this->site);
    $trial = $this->as($this->person, 'POST', "{$this->own}/basis")->assertStatus(202)->json('id');
    $found = $this->as($this->person, 'GET', "{$this->path}/experiment-trials/{$trial}")->assertOk()->json('result');
    expect($found['visitors'])->toBe(8)->and($found['within'])->toBe([4, 6, 8, 8])->and(array_sum(array_column($found['weekdays'], 'views')))->toBe(10)
        ->and($found['goals'][0])->toMatchArray(['key' => 'joined', 'reached' => 2, 'rate' => 0.25, 'value' => null])
        // 40 of one of eight visitors: mean 5, and by hand the root of (35^2 + 7 x 5^2) / 7.
        ->and($found['goals'][1]['value']['mean'])->toEqual(5)->and($found['goals'][1]['value']['sd'])->toAgreeWith(sqrt((35 ** 2 + 7 * 25) / 7))
        // v0, v4 and v5 viewed another page in that session.
        ->and($found['bounce'])->toBe(['bounced' => 5, 'rate' => 0.625])->and($found['engaged']['mean'])->toEqual(2.5);
});

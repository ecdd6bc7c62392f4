<?php

use App\Collector\Collector;
use App\Models\Site;
use App\ReadModel\Rebuild;
use App\ReadModel\StoredEvents;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Testing\TestResponse;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Formats\Moment;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    $this->send = function (string $visitor, float $minutesAgo, string $name, string $path = '/', array $props = [], ?string $id = null): string {
        static $number = 0;
        $id ??= 'e'.++$number;
        $time = CarbonImmutable::now('UTC')->subSeconds((int) round(60 * $minutesAgo));
        $answer = (new Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => [[
            'id' => $id, 'visitor' => $visitor, 'time' => Moment::format($time), 'name' => $name, 'url' => "https://shop.test{$path}", 'props' => (object) $props,
        ]]]), 'test', $time);
        expect($answer->json['rejected'])->toBe([]);

        return $id;
    };
    $this->joined = ['name' => 'Joined', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done', 'ignore' => ['slash']]];
    /** What is kept of a goal's hits, without row ids. */
    $this->hits = function (string $key): array {
        $count = DB::table('counts')->where('state', 'current')->where('kind', 'goal')->where('subject_id', $this->site->goals()->where('key', $key)->value('id'))->value('id');

        return DB::table('goal_hits')->where('count_id', $count)->orderBy('visitor')->orderBy('time')->orderBy('event_id')
            ->get(['visitor', 'session', 'time', 'url', 'events', 'value', 'currency', 'order_id', 'counts'])->map(fn (object $row): array => (array) $row)->all();
    };
});

it('defines goals of every kind, and keeps each change as a revision', function () {
    $made = ($this->call)('POST', '/goals', $this->joined)->assertCreated()->assertJsonPath('goal.key', 'joined')->assertJsonPath('revision', 1);
    expect($made->json('revisions.0.author'))->toBe('P');
    ($this->call)('POST', '/goals', $this->joined)->assertStatus(422)->assertJsonValidationErrors('key');
    ($this->call)('PUT', '/goals/joined', [...$this->joined, 'count' => 'session'])->assertOk()->assertJsonPath('revision', 2)->assertJsonCount(2, 'revisions');
    ($this->call)('PUT', '/goals/joined', [...$this->joined, 'count' => 'session'])->assertOk()->assertJsonPath('revision', 2);
    foreach ([['kind' => 'click', 'selector' => '#buy'], ['kind' => 'form', 'selector' => 'form'], ['kind' => 'event', 'event' => 'opened'], ['kind' => 'order'], ['kind' => 'engaged', 'seconds' => 30], ['kind' => 'scroll', 'percent' => 50], ['kind' => 'any_click'],
        ['kind' => 'steps', 'steps' => [['kind' => 'page', 'pages' => ['all' => []]], ['kind' => 'order']]]] as $i => $goal) {
        ($this->call)('POST', '/goals', ['name' => "Goal {$i}", ...$goal])->assertCreated();
    }
    ($this->call)('GET', '/goals')->assertOk()->assertJsonCount(9);
    ($this->call)('DELETE', '/goals/goal-0')->assertNoContent();
    ($this->call)('GET', '/goals/goal-0')->assertNotFound();
});

it('complains at the field of a goal', function (array $goal, string $field) {
    ($this->call)('POST', '/goals', $goal)->assertStatus(422)->assertJsonValidationErrors($field);
    expect($this->site->goals()->count())->toBe(0);
})->with([
    [['name' => '', 'kind' => 'order'], 'name'], [['name' => 'x'], 'kind'], [['name' => 'x', 'kind' => 'page'], 'pages'], [['name' => 'x', 'kind' => 'click', 'selector' => ':hover'], 'selector'],
    [['name' => 'x', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'matches', 'value' => '(a+)+']], 'pages.value'],
    [['name' => 'x', 'kind' => 'steps', 'steps' => [['kind' => 'order'], ['kind' => 'scroll', 'percent' => 'half']]], 'steps.1.percent'], [['name' => ['x'], 'kind' => 'order'], 'name'],
]);

it('shows what a goal matches, narrowly misses and would have counted', function () {
    ($this->call)('POST', '/pages', ['addresses' => "/join/done\n/join/Done\n/join/done/2\n/donate"])->assertCreated();
    foreach ([['a', 60 * 24], ['a', 5], ['b', 60 * 24 * 10], ['c', 60 * 24 * 40]] as [$visitor, $minutes]) {
        ($this->send)($visitor, $minutes, 'page_view', '/join/done');
    }
    ($this->send)('d', 5, 'page_view', '/');
    $this->gather();
    $try = function (array $goal): TestResponse {
        $trial = ($this->call)('POST', '/goals/trial', $goal)->assertStatus(202);

        return ($this->call)('GET', "/goals/trials/{$trial->json('id')}")->assertOk()->assertJsonPath('state', 'done');
    };
    $trial = $try($this->joined);
    expect($trial->json('result.matching'))->toBe(['https://shop.test/join/done'])
        ->and(array_column($trial->json('result.near'), 'why', 'url'))->toBe(['https://shop.test/join/Done' => 'only capitals differ', 'https://shop.test/join/done/2' => 'its path goes on after that: /2'])
        ->and($trial->json('result.counts.0'))->toMatchArray(['days' => 7, 'hits' => 1, 'visitors' => 1, 'sessions' => 2, 'rate' => 0.5])
        ->and($trial->json('result.counts.1'))->toMatchArray(['days' => 28, 'hits' => 2, 'visitors' => 2])
        ->and($trial->json('result.pages.0'))->toBe(['url' => 'https://shop.test/join/done', 'hits' => 3])->and($trial->json('result.questions'))->toBe([]);
    $all = $try(['kind' => 'page', 'pages' => ['all' => []]]);
    expect($all->json('result.questions.0'))->toContain('matches every known page');
    $none = $try(['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/never']])->json('result.questions');
    expect($none[0])->toContain('matches no known page')->and($none[1])->toContain('not have counted once');
    expect(DB::table('goal_hits')->count())->toBe(0);
});

it('keeps the same hits whether events come at once, one by one, or late', function () {
    ($this->call)('POST', '/goals', [...$this->joined, 'count' => 'session'])->assertCreated();
    ($this->call)('POST', '/goals', ['name' => 'Order', 'kind' => 'order'])->assertCreated();
    ($this->call)('POST', '/goals', ['name' => 'Way', 'kind' => 'steps', 'steps' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/a']], array_diff_key($this->joined, ['name' => 0, 'count' => 0])], 'within' => 3600])->assertCreated();
    mt_srand(7);
    for ($i = 0; $i < 120; $i++) {
        $visitor = 'v'.mt_rand(1, 6);
        [$name, $path] = [['page_view', '/a'], ['page_view', '/join/done'], ['page_view', '/join/done/'], ['order', '/thanks'], ['click', '/a']][mt_rand(0, 4)];
        ($this->send)($visitor, mt_rand(0, 3000) / 10, $name, $path, $name === 'order' ? ['order_id' => 'o'.mt_rand(1, 9), 'value' => 2] : []);
        if ($i % 17 === 0) {
            $this->gather();
        }
    }
    $this->gather();
    $running = array_map($this->hits, ['joined', 'order', 'way']);
    expect(array_map(count(...), $running))->each->toBeGreaterThan(3);
    // From the whole log: by a rebuild, and by the core alone.
    $rebuild = app(Rebuild::class);
    $rebuild->begin($this->site);
    while ($rebuild->work($this->site->refresh())) {
        // The next part.
    }
    expect(array_map($this->hits, ['joined', 'order', 'way']))->toBe($running);
    $goal = $this->site->goals()->where('key', 'way')->firstOrFail()->declared();
    $found = 0;
    foreach (StoredEvents::rows($this->site->id, ['v1', 'v2', 'v3', 'v4', 'v5', 'v6']) as $rows) {
        $found += count((new VisitorLog(array_map(StoredEvents::event(...), $rows)))->hits($goal));
    }
    expect($found)->toBe(count($running[2]));
});

it('counts the hits of an experiment from the first exposure on, as the goal says', function () {
    ($this->call)('POST', '/goals', $this->joined)->assertCreated();
    $experiment = ['name' => 'X', 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/'], 'variants' => [['key' => 'control', 'name' => 'c', 'weight' => 1, 'control' => true, 'changes' => []], ['key' => 'b', 'name' => 'b', 'weight' => 1, 'control' => false, 'changes' => []]]];
    ($this->call)('POST', '/experiments', [...$experiment, 'goals' => [['key' => 'joined', 'role' => 'primary'], ['key' => 'none']]])->assertStatus(422)->assertJsonValidationErrors('goals.1.key');
    ($this->call)('POST', '/experiments', [...$experiment, 'goals' => [['key' => 'joined', 'role' => 'guardrail'], ['name' => 'Fresh', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/fresh']]]])->assertCreated()
        ->assertJsonPath('goals.0.role', 'guardrail')->assertJsonPath('goals.1.key', 'fresh');
    ($this->call)('POST', '/experiments/x/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->travel(60)->minutes();
    ($this->send)('v', 50, 'page_view', '/join/done');
    ($this->send)('v', 40, 'exposure', '/', ['experiment' => 'x', 'variant' => 'b', 'bucket' => 1]);
    ($this->send)('v', 30, 'page_view', '/join/done/');
    ($this->send)('v', 20, 'page_view', '/join/done');
    ($this->send)('w', 20, 'page_view', '/join/done');
    $this->gather();
    $goal = ($this->call)('GET', '/experiments/x/observations')->assertOk()->json('goals.0');
    expect($goal['everyone'])->toMatchArray(['count' => 2, 'visitors' => 2])->and(array_column($goal['variants'], 'hits', 'key')['b'])->toMatchArray(['count' => 1, 'visitors' => 1]);
    ($this->call)('PUT', '/goals/joined', [...$this->joined, 'count' => 'every'])->assertOk();
    // The old figures stand until the new ones are there.
    expect(($this->call)('GET', '/experiments/x/observations')->json('goals.0.everyone.count'))->toBe(2);
    $this->gather();
    expect(($this->call)('GET', '/experiments/x/observations')->json('goals.0.everyone.count'))->toBe(4);
    ($this->call)('DELETE', '/goals/joined')->assertStatus(409);
});

it('plans events, takes and gives the plan as JSON and CSV, and says how events keep to it', function () {
    $plan = ['meaning' => 'A loan', 'sent_from' => 'The desk', 'schema' => ['type' => 'object', 'properties' => ['months' => ['type' => 'integer', 'minimum' => 1], 'note' => ['type' => 'string', 'pattern' => '^[a-z]+$']], 'required' => ['months']], 'examples' => [['months' => 2, 'note' => 'ok']]];
    ($this->call)('PUT', '/events/loan', $plan)->assertOk()->assertJsonPath('plan.meaning', 'A loan');
    foreach ([[60, ['months' => 3]], [50, []], [40, ['months' => 'three']], [30, ['months' => 2, 'note' => 'NO']], [20, ['months' => 2, 'me' => 'abc']]] as [$minutes, $props]) {
        ($this->send)('v', $minutes, 'loan', '/', $props);
    }
    $this->gather();
    $seen = ($this->call)('GET', '/events/loan')->assertOk();
    expect($seen->json('verdicts'))->toBe(['conforms' => 2, 'lacks' => 1, 'wrong-type' => 2, 'unplanned' => 0])->and($seen->json('first_violation.mistakes.0'))->toBe(['property' => 'months', 'message' => 'It is missing.'])
        ->and(array_sum(array_column($seen->json('days'), 'count')))->toBe(5);
    ($this->send)('v', 5, 'brochure');
    $this->gather();
    expect(array_column(($this->call)('GET', '/events')->json(), 'planned', 'name'))->toBe(['brochure' => false, 'loan' => true]);

    $get = fn (string $path): string => (string) $this->actingAs($this->person, 'sanctum')->get("/api/sites/{$this->site->key}{$path}")->assertOk()->getContent();
    [$json, $csv] = [$get('/plan.json'), $get('/plan.csv')];
    expect($csv)->toContain("loan,\"A loan\",\"The desk\",months,integer,yes,,2\r\n");
    ($this->call)('DELETE', '/events/loan')->assertNoContent();
    ($this->call)('POST', '/plan', ['plan' => $json])->assertOk()->assertJsonPath('taken', 1);
    expect($get('/plan.json'))->toBe($json);
    ($this->call)('DELETE', '/events/loan')->assertNoContent();
    ($this->call)('POST', '/plan', ['plan' => "\u{feff}{$csv}"])->assertOk();
    expect($get('/plan.csv'))->toBe($csv);
    // An empty schema object stays one.
    ($this->call)('PUT', '/events/brochure', ['schema' => ['properties' => ['any' => (object) []]]])->assertOk();
    expect($get('/plan.json'))->toContain('"any": {}');
});

it('says what is wrong with a plan', function (string $method, string $path, array $body, string $field, string $message) {
    expect(($this->call)($method, $path, $body)->assertStatus(422)->json("errors.{$field}.0") ?? ($this->call)($method, $path, $body)->json('errors')[$field][0])->toContain($message);
})->with([
    ['PUT', '/events/loan', ['schema' => ['type' => 'wrong']], 'schema.type', 'no JSON Schema'],
    ['PUT', '/events/loan', ['schema' => ['properties' => ['a' => ['pattern' => '(a+)+']]]], 'schema.properties.a.pattern.value', 'run away'],
    ['PUT', '/events/loan', ['schema' => ['required' => ['a']], 'examples' => [[]]], 'examples.0', 'does not keep to the schema'],
    ['PUT', '/events/a b', [], 'name', 'A name of letters'],
    ['PUT', '/events/gr%C3%B6%C3%9Fe', [], 'name', 'A name of letters'],
    ['POST', '/plan', ['plan' => '{"pellix":1,"events":[{"name":"1"}]}'], 'plan', 'events.0.name: A name of letters'],
    ['POST', '/plan', ['plan' => '{"pellix":1,'], 'plan', 'Not valid JSON at line 1'],
    ['POST', '/plan', ['plan' => "name,type\n"], 'plan', '1: The header row is event,meaning'],
    ['POST', '/plan', ['plan' => "event,meaning,sent_from,property,type,required,description,example\nx,,,p,text,yes,,\n"], 'plan', '2: A type is one of'],
]);

it('feeds events as they arrive, filtered, with the rejected ones and their reasons', function () {
    $first = ($this->send)('v', 9, 'page_view', '/join', ['me' => 'abc']);
    ($this->send)('w', 8, 'exposure', '/', ['experiment' => 'x', 'variant' => 'b']);
    DB::table('rejected_events')->insert(['site_id' => $this->site->id, 'received' => now(), 'reason' => 'event.url', 'message' => 'No.', 'sample' => '{"url":"<b>"}']);
    $feed = ($this->call)('GET', '/feed')->assertOk()->assertJsonCount(2, 'events')->assertJsonPath('rejected.0.reason', 'event.url');
    ($this->call)('GET', "/feed?after={$feed->json('after')}&after_rejected={$feed->json('after_rejected')}")->assertJsonCount(0, 'events')->assertJsonCount(0, 'rejected');
    foreach (['page=join' => 1, 'event=exposure' => 1, 'experiment=x' => 1, 'experiment=x&variant=c' => 0, 'visitor=v' => 1, 'mine=abc' => 1, 'mine=x' => 0] as $query => $count) {
        ($this->call)('GET', "/feed?{$query}")->assertJsonCount($count, 'events')->assertJsonCount($query === 'page=join' ? 0 : 0, 'rejected');
    }
    ($this->call)('GET', '/feed?after=x')->assertStatus(422);
    ($this->call)('GET', '/feed/none')->assertNotFound();
    expect($first)->not->toBe('');
});

it('tells the story of an event: session, assignment, goals and triggers with what each saw', function () {
    ($this->call)('POST', '/goals', $this->joined)->assertCreated();
    $tag = ['key' => 't', 'name' => 'T', 'kind' => 'script', 'code' => 'x', 'consent' => 'necessary', 'once' => 'page', 'triggers' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan']], ['kind' => 'time', 'seconds' => 5]]];
    ($this->call)('PUT', '/wiring/tags', ['revision' => 0, 'tags' => [$tag]])->assertOk();
    ($this->call)('POST', '/wiring/versions', ['note' => 'x'])->assertCreated();
    ($this->send)('v', 90, 'page_view');
    ($this->send)('v', 12, 'exposure', '/', ['experiment' => 'x', 'variant' => 'b']);
    $miss = ($this->send)('v', 10, 'page_view', '/join/done2');
    $hit = ($this->send)('v', 5, 'page_view', '/join/done');
    $story = ($this->call)('GET', "/feed/{$hit}")->assertOk()->json();
    expect($story['session'])->toMatchArray(['number' => 2, 'of' => 2, 'events' => 3, 'place' => 3])->and($story['assignments'][0])->toMatchArray(['experiment' => 'x', 'variant' => 'b', 'several' => false])
        ->and($story['goals'][0])->toMatchArray(['hit' => true, 'matched' => true])->and($story['triggers'][0])->toMatchArray(['what' => 'tag t', 'matched' => false])->and($story['triggers'][1]['matched'])->toBeNull();
    $condition = ($this->call)('GET', "/feed/{$miss}")->json('goals.0.steps.0.conditions.1');
    expect($condition)->toBe(['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done', 'seen' => '/join/done2', 'holds' => false]);
});

it('takes orders from a back office once, by order number and by event id', function () {
    ($this->send)('v', 60, 'page_view');
    DB::table('events')->update(['user' => 'u-1']);
    $order = ['name' => 'order', 'user' => 'u-1', 'props' => ['order_id' => 'A-1', 'value' => 10, 'currency' => 'EUR']];
    ($this->call)('POST', '/events', ['events' => [$order, ['name' => 'refund', 'visitor' => 'v', 'id' => 'r1'], 'x', ['name' => 'order']]])->assertOk()
        ->assertJsonPath('accepted', 2)->assertJsonCount(2, 'rejected')->assertJsonPath('rejected.1.reason', 'event.id');
    ($this->call)('POST', '/events', ['events' => [$order, ['name' => 'refund', 'visitor' => 'v', 'id' => 'r1']]])->assertOk()->assertJsonPath('repeated', 2);
    expect(DB::table('events')->where('name', 'order')->value('visitor'))->toBe('v', 'the visitor that was last seen as this user');
    ($this->call)('POST', '/events', [])->assertStatus(422);
    $this->as($this->makePerson(), 'POST', "/api/sites/{$this->site->key}/events", ['events' => [$order]])->assertNotFound();
});

it('changes what is captured, and publishes it', function () {
    $capture = ['data_layer' => 'shelf', 'data_events' => [['push' => 'booked', 'name' => 'bench_booked', 'props' => ['deposit' => 'booking.deposit']]], 'consent_mode' => 'ask', 'honour_gpc' => true, 'session_minutes' => 20];
    ($this->call)('PUT', '/capture', $capture)->assertOk()->assertExactJson([...$capture, 'page_parameters' => []]);
    ($this->call)('GET', '/settings')->assertJsonPath('since.consent_mode', fn (?string $at): bool => $at !== null);
    $published = (string) file_get_contents(config('pellix.published')."/{$this->site->key}.js");
    expect($published)->toContain('"ask":true')->toContain('"sessionSeconds":1200')->toContain('"dataEvents":[{"push":"booked","name":"bench_booked","props":{"deposit":"booking.deposit"}}]');
    expect(Site::query()->findOrFail($this->site->id)->session_minutes)->toBe(20);
    foreach ([['data_layer' => 'a b'], ['session_minutes' => 0], ['consent_mode' => 'perhaps'], ['data_events' => [['push' => '', 'name' => 'x']]]] as $change) {
        ($this->call)('PUT', '/capture', [...$capture, ...$change])->assertStatus(422);
    }
});

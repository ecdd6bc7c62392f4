<?php

use App\Models\Publication;
use App\Publishing\Publisher;
use App\Publishing\SiteFile;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment;

/** Everything that an experiment file can say, but for what follows from its life. */
function fullFile(): array
{
    return [
        'pellix' => 1, 'key' => 'loan-steps', 'name' => ' Steps, with blanks ', 'hypothesis' => "Fewer steps,\nmore loans ", 'kind' => 'in_page', 'unit' => 'user', 'salt' => 'a salt of ours', 'share' => 0.25,
        'variants' => [
            ['key' => 'short', 'name' => 'Short', 'weight' => 12.5, 'control' => false, 'changes' => [...array_merge(...array_column(json_decode((string) file_get_contents(__DIR__.'/../vectors/changes.json'), true)['takes'], 'changes')), ['kind' => 'sheet', 'value' => 'p { top: 0 }'], ['kind' => 'script', 'value' => ' x() '], ['kind' => 'text', 'selector' => 'h1', 'value' => ' Hello '], ['kind' => 'style', 'selector' => '.a > b', 'property' => '--gap', 'value' => '1px']]],
            ['key' => 'as-it-is', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
        ],
        'pages' => ['any' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/loan', 'ignore' => ['case', 'slash']], ['fact' => 'url.query.step', 'op' => 'in', 'value' => ['1', '2']]]],
        'audience' => ['all' => [['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], ['not' => ['fact' => 'cookie.member', 'op' => 'exists']]]],
        'trigger' => ['kind' => 'event', 'name' => 'opened', 'when' => ['fact' => 'event.props.n', 'op' => 'gte', 'value' => 2]],
        'goals' => [
            ['key' => 'done', 'name' => 'Done', 'kind' => 'page', 'role' => 'guardrail', 'count' => 'session', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done'], 'value' => ['fixed' => 2.5], 'currency' => 'EUR'],
            ['key' => 'way', 'name' => 'Way', 'kind' => 'steps', 'role' => 'primary', 'count' => 'visitor', 'within' => 600, 'steps' => [['kind' => 'click', 'selector' => '#next'], ['kind' => 'scroll', 'percent' => 50, 'optional' => true], ['kind' => 'order', 'when' => ['fact' => 'event.props.value', 'op' => 'gt', 'value' => 5]]]],
        ],
        'hypothesis_parts' => ['because' => 'many leave', 'effect' => 'bring more loans'], 'hypothesis' => 'Because many leave, will bring more loans.', 'owner' => 'Ana', 'notes' => " Two\nlines ", 'labels' => ['loan', 'step two'],
        'planned_days' => 28, 'lifetime_days' => 30, 'group' => ['key' => 'loans', 'from' => 0.5],
    ];
}

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}/experiments";
    $this->call = fn (string $method, string $path = '', array $body = []) => $this->as($this->person, $method, $this->path.$path, $body);
    $this->published = fn (): array => preg_match('/\Awindow\.pellixSite=(.*);\n/', (string) file_get_contents(config('pellix.published')."/{$this->site->key}.js"), $m) === 1 ? json_decode($m[1], true) : [];
});

it('takes every field of an experiment file to the browser and back again', function () {
    $file = fullFile();
    ($this->call)('POST', '', $file)->assertCreated();
    $back = ($this->call)('GET', '/loan-steps/file')->assertOk()->json();
    expect($back)->toEqual([...$file, 'epochs' => []]);
    ($this->call)('POST', '/loan-steps/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $started = ($this->call)('GET', '/loan-steps/file')->json();
    expect(array_diff_key($started, ['epochs' => 0, 'start' => 0]))->toEqual($file)->and($started['epochs'])->toHaveCount(1)->and($started['epochs'][0])->toMatchArray(['share' => 0.25, 'weights' => ['short' => 12.5, 'as-it-is' => 50.0]])
        ->and($started['epochs'][0]['from'])->toBe($started['start'])->and(Experiment::read($started)->toArray())->toEqual($started);
    $compiled = ($this->published)()['experiments'][0];
    expect($compiled)->toMatchArray(['key' => 'loan-steps', 'salt' => 'a salt of ours', 'share' => 0.25, 'unit' => 'user', 'lifetimeDays' => 30])->and($compiled['pages'])->toEqual($file['pages'])
        ->and($compiled['audience'])->toEqual($file['audience'])->and($compiled['trigger'])->toEqual($file['trigger'])->and(array_column($compiled['variants'], 'key'))->toBe(['short', 'as-it-is'])
        ->and($compiled['variants'][0]['changes'])->toEqual(array_values(array_filter($file['variants'][0]['changes'], fn (array $one): bool => ! isset($one['off']))))->and($compiled['group'])->toBe(['key' => 'loans', 'from' => 0.5])->and($compiled['variants'][0]['end'])->toBe(0.2);
});

it('refuses at its field what it cannot keep', function (array $change, string $field) {
    ($this->call)('POST', '', [...fullFile(), ...$change])->assertStatus(422)->assertJsonValidationErrors($field);
    expect($this->site->experiments()->count())->toBe(0)->and($this->site->goals()->count())->toBe(0);
})->with([
    [['kind' => 'multivariate'], 'kind'], [['factors' => [['key' => 'a']]], 'factors'], [['epochs' => [['from' => '2026-03-02T00:00:00Z', 'share' => 1, 'weights' => []]]], 'epochs'],
    [['start' => '2026-03-02T00:00:00Z'], 'start'], [['end' => '2026-03-02T00:00:00Z'], 'end'], [['lifetime_days' => 0], 'lifetime_days'], [['hypotheses' => 'x'], 'hypotheses'], [['unit' => 'device'], 'unit'],
    [['audience' => ['fact' => 'event.name', 'op' => 'is', 'value' => 'x']], 'audience.fact'], [['trigger' => ['kind' => 'data', 'when' => ['fact' => 'event.name', 'op' => 'exists']]], 'trigger.when.fact'],
    [['variants' => [['key' => 'a', 'weight' => 1, 'colour' => 'red'], ['key' => 'b', 'weight' => 1]]], 'variants.0.colour'],
    [['variants' => [['key' => 'a', 'weight' => 1, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'x', 'property' => 'color']]], ['key' => 'b', 'weight' => 1]]], 'variants.0.changes.0.property'],
    [['goals' => [['name' => 'G', 'kind' => 'order', 'selector' => '#a']]], 'goals.0.selector'], [['goals' => [['name' => 'G', 'kind' => 'order', 'value' => ['fixed' => 1, 'tax' => 2]]]], 'goals.0.value.tax'],
    [['trigger' => ['kind' => 'click', 'selector' => '#a', 'seconds' => 3]], 'trigger.seconds'],
    [['goals' => [['name' => 'G', 'kind' => 'event', 'event' => 'e', 'when' => ['fact' => 'visitor.returning', 'op' => 'is', 'value' => true]]]], 'goals.0.when.fact'],
]);

it('keeps each change of a started experiment as a revision, and epochs follow from them', function () {
    ($this->call)('POST', '', experimentRequest())->assertCreated();
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $times = [];
    foreach ([['share' => 0.5], ['share' => 0.5, 'hypothesis' => 'Another'], ['share' => 0.5, 'hypothesis' => 'Another', 'variants' => [1 => ['weight' => 150]]]] as $change) {
        $this->travel(1)->hours();
        $times[] = now()->format('Y-m-d\TH');
        ($this->call)('PUT', '/shorter-words', experimentRequest($change))->assertOk();
    }
    $this->travel(1)->hours();
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'pause'])->assertOk();
    ($this->call)('PUT', '/shorter-words', experimentRequest(['share' => 1, 'pages' => ['value' => '/other']]))->assertOk();
    $this->travel(1)->hours();
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'resume'])->assertOk();
    $file = ($this->call)('GET', '/shorter-words/file')->json();
    expect(array_column($file['epochs'], 'share'))->toEqual([1, 0.5, 0.5, 1])->and(array_column(array_column($file['epochs'], 'weights'), 'short'))->toEqual([50, 50, 150, 50])
        ->and($file['epochs'][1]['from'])->toStartWith($times[0])->and($file['epochs'][2]['from'])->toStartWith($times[2])
        ->and($file['epochs'][0]['pages']['value'])->toBe('/join')->and(isset($file['epochs'][3]['pages']))->toBeFalse();
    $revisions = ($this->call)('GET', '/shorter-words/revisions')->assertOk()->json();
    expect(array_column($revisions, 'number'))->toBe([8, 7, 6, 5, 4, 3, 2, 1])->and($revisions[5]['changed'])->toBe(['share'])->and($revisions[0]['changed'])->toBe(['state'])->and($revisions[0]['author'])->toBe('P');
    $experiment = $this->site->experiments()->first();
    expect($experiment->ran()->all)->toHaveCount(2);
    // What visitors were told apart by stays.
    ($this->call)('PUT', '/shorter-words', experimentRequest(['variants' => [1 => ['key' => 'long']]]))->assertStatus(422)->assertJsonValidationErrors('variants');
    ($this->call)('PUT', '/shorter-words', experimentRequest(['salt' => 'another']))->assertStatus(422)->assertJsonValidationErrors('salt');
});

it('tests the sample ratio against the weights of each epoch, not against today\'s', function () {
    ($this->call)('POST', '', experimentRequest())->assertCreated();
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->travel(1)->seconds();
    $collect = function (int $from, int $control, int $short): void {
        foreach (['control' => $control, 'short' => $short] as $variant => $n) {
            for ($i = 0; $i < $n; $i++) {
                visit($this, "{$from}-{$variant}-{$i}", '/join', ['page_view', 'exposure'], $variant);
            }
        }
    };
    [$this->sent, $this->path] = [0, "{$this->path}/shorter-words"];
    $collect(1, 30, 30);
    $this->travel(1)->minutes();
    $this->as($this->person, 'PUT', $this->path, experimentRequest(['variants' => [1 => ['weight' => 150]]]))->assertOk();
    $this->travel(1)->seconds();
    $collect(2, 10, 30);
    $this->gather();
    $srm = $this->as($this->person, 'GET', "{$this->path}/observations")->json('srm');
    expect($srm['observed'])->toBe([40, 60])->and($srm['expected'])->toEqual([40, 60]);
});

it('numbers what it publishes, and never puts an older file in place of a newer one', function () {
    ($this->call)('POST', '', experimentRequest())->assertCreated();
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $first = ($this->published)()['number'];
    app(Publisher::class)->publish($this->site);
    expect(($this->published)()['number'])->toBe($first, 'what did not change keeps its number');
    ($this->call)('POST', '/shorter-words/stage', ['action' => 'pause'])->assertOk();
    expect(($this->published)()['number'])->toBe($first + 1)->and(Publication::query()->pluck('number')->all())->toBe(range(1, $first + 1));
    // Whoever compiled before, and writes after.
    $late = Publication::query()->where('number', $first)->first();
    app(SiteFile::class)->write($this->site->key, $late->number, $late->configuration, []);
    expect(($this->published)()['number'])->toBe($first + 1)->and(($this->published)()['experiments'])->toBe([]);
});

it('puts the number of the file that a visitor met onto each event', function () {
    (new App\Collector\Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'configuration' => 7, 'events' => [['id' => 'e', 'visitor' => 'v', 'time' => now('UTC')->format('Y-m-d\TH:i:s\Z'), 'name' => 'x', 'url' => 'http://shop.test/a?utm=1#b']]]), 'Mozilla/5.0 (iPhone) Safari/604.1', new DateTimeImmutable('now', new DateTimeZone('UTC')));
    $row = DB::table('events')->first();
    expect((int) $row->configuration)->toBe(7)->and($row->device)->toBe('mobile')->and($row->browser)->toBe('safari')->and($row->url)->toBe('http://shop.test/a?utm=1#b')
        ->and((int) $row->page)->toBe(Pellix\Core\Pages\PageKey::of('http://SHOP.test:80/a')->id)->and($row->unit)->toBe('v');
});

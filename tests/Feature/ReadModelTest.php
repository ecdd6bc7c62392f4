<?php

declare(strict_types=1);

use App\Cli\GoalsCommand;
use App\Collector\Collector;
use App\ReadModel\Counts;
use App\ReadModel\Gatherer;
use App\ReadModel\Readings;
use App\ReadModel\Rebuild;
use App\ReadModel\RecentHits;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\ExperimentCount;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Totals;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    /** @var list<array<string, mixed>> everything that was accepted, in the order in which it came */
    $this->log = [];
});

const PATHS = ['/', '/join', '/join/', '/join/done', '/other', '/join?x=1'];

/** Random events, sent in beacons of random sizes, many of them late, some twice; some visitors share an order, some are users. */
function sendRandomly(object $test, int $beacons, int $fromHour = 40, int $toHour = 0): void
{
    static $number = 0;
    for ($i = 0; $i < $beacons; $i++) {
        $events = [];
        for ($n = mt_rand(1, 6); $n > 0; $n--) {
            $name = ['page_view', 'page_view', 'page_view', 'exposure', 'exposure', 'change_applied', 'order', 'click'][mt_rand(0, 7)];
            $props = match ($name) {
                'exposure', 'change_applied' => ['experiment' => ['by-visitor', 'by-user', 'none'][mt_rand(0, 2)], 'variant' => ['control', 'b', 'b', 'stranger'][mt_rand(0, 3)], 'bucket' => 1],
                'order' => ['order_id' => ['', '7', '07', 'A', 'B'][mt_rand(0, 4)], 'value' => mt_rand(1, 40) / 4, 'currency' => 'EUR'],
                default => [],
            };
            $events[] = [
                // Ids, visitors and users of digits stay texts.
                'id' => (string) (++$number), 'visitor' => ['1', '01', '2', 'v', 'w', 'x'][mt_rand(0, 5)], 'user' => [null, null, '5', '05'][mt_rand(0, 3)],
                'time' => Moment::format(CarbonImmutable::now('UTC')->subHours(mt_rand($toHour, $fromHour))->subSeconds(mt_rand(0, 3599))->addMilliseconds(mt_rand(0, 3))),
                'name' => $name, 'url' => 'https://shop.test'.PATHS[array_rand(PATHS)], 'props' => (object) $props,
            ];
        }
        if (mt_rand(0, 5) === 0) {
            $events[] = $events[0];
        }
        $answer = (new Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $test->site->key, 'events' => $events]), 'Mozilla/5.0 (iPhone) Mobile Safari/604.1', CarbonImmutable::now('UTC'));
        expect($answer->json['rejected'])->toBe([]);
        foreach (array_unique($events, SORT_REGULAR) as $event) {
            $test->log[] = [...$event, 'props' => (array) $event['props']];
        }
    }
}

/** @return list<LogEvent> the log as the core sees it; what has the same time in the order in which it came */
function sentEvents(object $test): array
{
    return array_map(static fn (array $one): LogEvent => new LogEvent($one['id'], $one['visitor'], Moment::parse($one['time']), $one['name'], $one['url'], $one['props'], null, 'Mozilla/5.0 (iPhone) Mobile Safari/604.1', $one['user']), $test->log);
}

function declareAll(object $test): void
{
    $path = fn (string $value): array => ['fact' => 'url.path', 'op' => 'is', 'value' => $value, 'ignore' => ['slash']];
    foreach ([
        ['name' => 'Joined', 'kind' => 'page', 'count' => 'visitor', 'pages' => $path('/join/done')],
        ['name' => 'Viewed', 'kind' => 'page', 'count' => 'session', 'pages' => $path('/join')],
        ['name' => 'Paid', 'kind' => 'order', 'count' => 'every', 'currency' => 'EUR'],
        ['name' => 'Way', 'kind' => 'steps', 'count' => 'every', 'within' => 7200, 'steps' => [['kind' => 'page', 'pages' => $path('/join')], ['kind' => 'page', 'pages' => $path('/')  , 'optional' => true], ['kind' => 'order']]],
    ] as $goal) {
        ($test->call)('POST', '/goals', $goal)->assertCreated();
    }
    $variants = [['key' => 'control', 'name' => 'c', 'weight' => 1, 'control' => true, 'changes' => []], ['key' => 'b', 'name' => 'b', 'weight' => 1, 'control' => false, 'changes' => []]];
    $goals = array_map(fn (string $key): array => ['key' => $key], ['joined', 'viewed', 'paid', 'way']);
    foreach ([['By visitor', 'visitor'], ['By user', 'user']] as [$name, $unit]) {
        ($test->call)('POST', '/experiments', ['name' => $name, 'share' => 1, 'unit' => $unit, 'pages' => $path('/join'), 'variants' => $variants, 'goals' => $goals, 'audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'mobile']])->assertCreated();
    }
}

/** The figures that are kept of each experiment and goal, by names that survive a rebuild; sums of 0 left out. */
function kept(object $test): array
{
    $goals = DB::table('counts')->join('goals', 'goals.id', 'subject_id')->where('kind', 'goal')->where('state', 'current')->where('counts.site_id', $test->site->id)->pluck('key', 'counts.id')->all();
    $figures = [];
    foreach (DB::table('counts')->join('experiments', 'experiments.id', 'subject_id')->where('counts.kind', 'experiment')->where('counts.state', 'current')->where('counts.site_id', $test->site->id)->get(['counts.id', 'experiments.key']) as $count) {
        foreach (DB::table('figures')->where('count_id', $count->id)->where('n', '<>', 0)->orderBy('figure')->get() as $row) {
            $name = preg_replace_callback('/\Agoal\.(\d+)\./', static fn (array $m): string => isset($goals[$m[1]]) ? "goal.{$goals[$m[1]]}." : '', $row->figure);
            if (! str_starts_with($name, 'everyone') && ! str_starts_with($name, 'variant.') || ! str_starts_with($row->figure, 'goal.')) {
                $figures[$count->key][$name] = (int) $row->n;
            }
        }
        $figures[$count->key] ??= [];
        ksort($figures[$count->key]);
    }

    return $figures;
}

/** All of the model's tables, without the ids of counts. */
function everything(object $test): array
{
    $site = $test->site->id;

    return [
        kept($test),
        DB::table('volumes')->where('site_id', $site)->orderBy('by')->orderBy('item')->orderBy('hour')->get()->map(fn ($r): array => (array) $r)->all(),
        DB::table('page_volumes')->where('site_id', $site)->orderBy('page')->orderBy('hour')->get()->map(fn ($r): array => (array) $r)->all(),
        DB::table('visitors')->where('site_id', $site)->orderBy('visitor')->get()->map(fn ($r): array => (array) $r)->all(),
        DB::table('view_hours')->where('site_id', $site)->where('visitors', '<>', 0)->orderBy('hour')->get()->map(fn ($r): array => (array) $r)->all(),
        DB::table('participations')->join('counts', 'counts.id', 'count_id')->where('state', 'current')->where('participations.site_id', $site)->orderBy('unit')->orderBy('subject_id')->get(['unit', 'subject_id', 'views', 'exposures', 'applied', 'missed', 'variant', 'crossed', 'epoch', 'first', 'last', 'page', 'device', 'browser'])->map(fn ($r): array => (array) $r)->all(),
        DB::table('goal_hits')->join('counts', 'counts.id', 'count_id')->where('state', 'current')->where('goal_hits.site_id', $site)->orderBy('visitor')->orderBy('subject_id')->orderBy('time')->orderBy('event_id')->get(['visitor', 'subject_id', 'time', 'event_id', 'user', 'session', 'url', 'events', 'value', 'currency', 'order_id', 'counts'])->map(fn ($r): array => (array) $r)->all(),
        DB::table('goal_hours')->join('counts', 'counts.id', 'count_id')->where('state', 'current')->where('site_id', $site)->whereRaw('(hits <> 0 or sessions <> 0 or visitors <> 0)')->orderBy('subject_id')->orderBy('hour')->get(['subject_id', 'hour', 'hits', 'sessions', 'visitors'])->map(fn ($r): array => (array) $r)->all(),
        array_map(static fn (array $one): array => array_diff_key($one, ['goals' => 0]), Readings::all($site, 'experiment')),
    ];
}

it('keeps step by step what the core counts from the whole log, and shows it everywhere alike', function (int $seed) {
    mt_srand($seed);
    declareAll($this);
    ($this->call)('POST', '/experiments/by-visitor/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    DB::table('experiments')->update(['started_at' => $at = CarbonImmutable::now('UTC')->subHours(30)->format('Y-m-d H:i:s.v')]);
    DB::table('experiment_revisions')->where('stage', 'running')->update(['from' => $at]);
    $this->site->recount();
    for ($part = 0; $part < 6; $part++) {
        sendRandomly($this, 12);
        $this->gather();
    }
    $log = sentEvents($this);
    foreach ($this->site->experiments()->get() as $experiment) {
        $declared = $experiment->declared();
        $figures = ExperimentCount::of($declared, App\ReadModel\Definitions::periods($experiment), $log);
        ksort($figures);
        expect(kept($this)[$experiment->key])->toBe($figures, $experiment->key);
        // The workbench.
        $seen = ($this->call)('GET', "/experiments/{$experiment->key}/observations")->assertOk();
        expect($seen->json('page_views.count'))->toBe($figures['views'] ?? 0)->and($seen->json('crossed'))->toBe($figures['crossed'] ?? 0);
        foreach ($seen->json('goals') as $goal) {
            expect($goal['everyone']['count'])->toBe($figures["goal.{$goal['key']}.everyone.hits"] ?? 0);
            foreach ($goal['variants'] as $variant) {
                expect([$variant['hits']['count'], $variant['hits']['visitors']])->toBe([$figures["goal.{$goal['key']}.variant.{$variant['key']}.hits"] ?? 0, $figures["goal.{$goal['key']}.variant.{$variant['key']}.units"] ?? 0]);
            }
        }
    }
    // The goal list, the trial and the command, against the core.
    $visitors = [];
    foreach (LogEvent::inOrder($log) as $event) {
        $visitors["#{$event->visitor}"][] = $event;
    }
    $files = [tempnam(sys_get_temp_dir(), 'log').'.ndjson', tempnam(sys_get_temp_dir(), 'goals').'.json'];
    file_put_contents($files[0], implode("\n", array_map(static fn (array $one): string => (string) json_encode([...$one, 'props' => (object) $one['props']]), $this->log)));
    foreach ($this->site->goals()->get() as $kept) {
        $goal = $kept->declared();
        $hits = array_merge(...array_map(static fn (array $own): array => (new VisitorLog($own))->hits($goal), array_values($visitors)));
        $totals = Totals::of($goal, $hits);
        expect(array_intersect_key(RecentHits::ofSite($kept->site_id)[$kept->id], ['hits' => 0, 'visitors' => 0]))->toBe(['hits' => $totals['hits'], 'visitors' => $totals['visitors']], $kept->key);
        $trial = ($this->call)('GET', '/goals/trials/'.($this->call)('POST', '/goals/trial', $kept->definition)->json('id'))->json('result.counts.0');
        expect(array_intersect_key($trial, array_flip(['hits', 'visitors', 'sessions'])))->toBe(array_intersect_key($totals, array_flip(['hits', 'visitors', 'sessions'])), $kept->key)->and((float) $trial['value'])->toBe((float) $totals['value']);
        file_put_contents($files[1], (string) json_encode([$kept->definition]));
        $out = fopen('php://memory', 'w+');
        expect(GoalsCommand::run([$files[0], "--goals={$files[1]}", '--json'], STDIN, $out, STDERR))->toBe(0);
        expect(array_intersect_key(json_decode((string) stream_get_contents($out, null, 0), true)['goals'][0], array_flip(['hits', 'visitors', 'sessions'])))->toBe(array_intersect_key($totals, array_flip(['hits', 'visitors', 'sessions'])));
    }
    array_map(unlink(...), $files);
})->with([1, 2, 3]);

it('makes the same again from the events alone, also while new ones arrive', function (int $seed) {
    mt_srand($seed);
    declareAll($this);
    sendRandomly($this, 30);
    $this->gather();
    sendRandomly($this, 10);
    ($this->call)('POST', '/experiments/by-visitor/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->gather();
    $gatherer = app(Gatherer::class);
    $rebuild = app(Rebuild::class);
    $rebuild->begin($this->site);
    $n = 0;
    do {
        $more = $rebuild->work($this->site->refresh());
        if ($n++ < 4) {
            sendRandomly($this, 3);
        }
        mt_rand(0, 1) === 1 && $gatherer->step($this->site);
    } while ($more);
    $this->gather();
    $while = everything($this);
    $rebuild->begin($this->site);
    while ($rebuild->work($this->site->refresh())) {
        // The next part.
    }
    $this->gather();
    expect(everything($this))->toBe($while)->and(DB::table('arrivals')->count())->toBe(0);
    expect(DB::table('events')->count())->toBe(count($this->log));
})->with([11, 12, 13]);

it('shows the old figures until a goal that was changed is counted anew, beside what arrives', function () {
    mt_srand(5);
    declareAll($this);
    sendRandomly($this, 30);
    $this->gather();
    $before = kept($this);
    ($this->call)('PUT', '/goals/joined', ['name' => 'Joined', 'kind' => 'page', 'count' => 'every', 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/join']])->assertOk();
    app(Counts::class)->reconcile($this->site->refresh());
    expect(array_column(($this->call)('GET', '/goals')->json(), 'counting', 'revision')[2]['state'])->toBe('building')->and(kept($this))->toBe($before);
    sendRandomly($this, 5);
    app(Gatherer::class)->step($this->site->refresh());
    $this->gather();
    $figures = ExperimentCount::of($this->site->experiments()->where('key', 'by-visitor')->firstOrFail()->declared(), App\ReadModel\Definitions::periods($this->site->experiments()->where('key', 'by-visitor')->firstOrFail()), sentEvents($this));
    ksort($figures);
    expect(kept($this)['by-visitor'])->toBe($figures)->and(array_unique(array_column(array_column(($this->call)('GET', '/goals')->json(), 'counting'), 'state')))->toBe(['current']);
});

it('lets one experiment that cannot be read say so, and the others go on', function () {
    declareAll($this);
    DB::table('experiments')->where('key', 'by-user')->update(['pages' => '{"fact":"moon","op":"is","value":"full"}']);
    $this->site->recount();
    mt_srand(3);
    sendRandomly($this, 5);
    $this->gather();
    $chains = array_column(($this->call)('GET', '/chains')->assertOk()->json(), null, 'experiment');
    expect($chains['by-user']['words'])->toContain('It cannot be read: pages.fact: There is no fact "moon"')->and($chains['by-visitor']['words'])->not->toContain('cannot be read');
    ($this->call)('GET', '/experiments/by-user/observations')->assertStatus(409);
    ($this->call)('GET', '/experiments/by-visitor/observations')->assertOk();
    ($this->call)('POST', '/experiments/by-visitor/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    expect((string) file_get_contents(config('pellix.published')."/{$this->site->key}.js"))->toContain('"key":"by-visitor"');
});

it('bounds what one visitor can cost, and says nothing wrong of the others', function () {
    declareAll($this);
    $one = fn (int $i): array => ['id' => "many-{$i}", 'visitor' => 'flood', 'time' => Moment::format(CarbonImmutable::now('UTC')->subMinutes(5)->addMilliseconds($i)), 'name' => 'page_view', 'url' => 'https://shop.test/join', 'props' => (object) []];
    foreach (array_chunk(range(1, 1500), 100) as $part) {
        (new Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => array_map($one, $part)]), '', CarbonImmutable::now('UTC'));
        $this->gather();
    }
    expect((int) DB::table('visitors')->where('visitor', 'flood')->value('events'))->toBe(1500)->and((int) DB::table('volumes')->where('by', 'event')->sum('n'))->toBe(1500);
});

<?php

use App\Models\Audit;
use App\Models\Decision;
use App\Models\Delivery;
use App\Models\Experiment;
use App\Models\Notice;
use App\ReadModel\Rebuild;
use App\Readouts\ReadoutMaker;
use Carbon\CarbonImmutable;
use Demo\Logs\LogMaker;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Settings as AuditSettings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Pages\PageKey;
use Pellix\Core\Readout\Details;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Reading\LogReadout;
use Pellix\Core\Readout\Readout;
use Pellix\Core\Readout\Subject;
use Tests\Support\AuditLogs;

beforeEach(function () {
    $this->travelTo('2026-03-16 12:00:00');
    $this->site = $this->makeSite();
    $this->site->update(['hosts' => ['larkhollow.localhost', 'desk.larkhollow.localhost'], 'time_zone' => 'Europe/Lisbon']);
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    /** An experiment that began with a log, with its goals and a rule. */
    $this->begun = function (Demo\Logs\Settings $settings, array $more = []): Experiment {
        $file = $settings->experiment();
        $begin = CarbonImmutable::createFromTimestampUTC(intdiv($settings->begin(), 1000));
        $experiment = $this->site->experiments()->create([
            'key' => $file['key'], 'name' => $file['name'], 'hypothesis' => 'Fewer steps, more loans', 'kind' => 'in_page', 'unit' => 'visitor', 'salt' => $file['salt'], 'share' => 0.9,
            'variants' => array_map(fn (array $one): array => ['name' => ucfirst($one['key']), 'control' => false, 'changes' => [], ...$one], $file['variants']), 'pages' => $file['pages'], 'state' => 'running',
            'started_at' => $begin, 'changed_at' => $begin, 'revision' => 1, 'planned_days' => 14, 'decision' => ['by' => 'primary', 'earlier_days' => 14], ...$more,
        ]);
        foreach ($file['goals'] as $position => $goal) {
            $kept = $this->site->goals()->create(['key' => $goal['key'], 'name' => $goal['key'], 'definition' => array_diff_key($goal, ['role' => 0]), 'revision' => 1]);
            $experiment->goals()->attach($kept, ['role' => $goal['role'], 'position' => $position]);
        }
        $experiment->load('goals');
        $experiment->revisions()->create(['number' => 1, 'from' => $begin, 'stage' => 'running', 'declared' => $experiment->declaration(), 'changed' => [], 'author' => 'Ana']);
        $this->site->recount();

        return $experiment->refresh();
    };
    /** Events of a log arrive, and are taken in. */
    $this->arrive = function (array $events): void {
        $moment = fn (int $ms): string => gmdate('Y-m-d H:i:s', intdiv($ms, 1000)).sprintf('.%03d', $ms % 1000);
        $rows = $arrivals = [];
        foreach ($events as $event) {
            $rows[$event['id']] = [
                'site_id' => $this->site->id, 'visitor' => $event['visitor'], 'time' => $moment($event['time']), 'event_id' => $event['id'], 'received' => $moment($event['received']), 'name' => $event['name'], 'url' => $event['url'],
                'page' => PageKey::of($event['url'])->id, 'referrer' => $event['referrer'] === '' ? null : $event['referrer'], 'agent' => $event['agent'], 'user' => $event['user'], 'unit' => $event['visitor'], 'props' => json_encode($event['props']),
            ];
            $arrivals["#{$event['visitor']}"][] = $event['id'];
        }
        foreach (array_chunk(array_values($rows), 1000) as $part) {
            DB::table('events')->insertOrIgnore($part);
        }
        foreach (array_chunk(array_map(fn (string $marked, array $ids): array => ['site_id' => $this->site->id, 'visitor' => substr($marked, 1), 'kind' => 'events', 'received' => '2026-03-16 12:00:00', 'content' => json_encode($ids)], array_map(strval(...), array_keys($arrivals)), $arrivals), 500) as $part) {
            DB::table('arrivals')->insert($part);
        }
        $this->gather($this->site->refresh());
    };
});

/** What a log of the same says, by the core alone. */
function readoutOfLog(Experiment $experiment, array $events, CarbonImmutable $at, array $exclusions = []): Readout
{
    $lines = implode("\n", array_map(LogMaker::line(...), $events));
    $file = tempnam(sys_get_temp_dir(), 'readout');
    file_put_contents($file, $lines);
    try {
        $setup = new Setup($experiment->declared(), null, null, AuditSettings::read(['time_zone' => 'Europe/Lisbon', 'hosts' => $experiment->site->hosts, 'exclusions' => $exclusions]), readsVisits: true);
        $subject = new Subject($setup->experiment);
        [, $table] = LogReadout::of(LogReader::pieces($file, false, PHP_INT_MAX, null, true) ?? [], $setup, $subject, static fn () => null);
    } finally {
        unlink($file);
    }

    return Readout::of($subject, $table, Look::at($setup->experiment, $at, new DateTimeZone('Europe/Lisbon'), planned: new DateTimeImmutable('2026-03-16T00:00:00Z'), isOpen: true), Gate::of([]));
}

/** Numbers to nine digits: sums of the same in another order differ in the last ones. */
function rounded(mixed $value): mixed
{
    return is_array($value) ? array_map(rounded(...), $value) : (is_float($value) ? (float) sprintf('%.9g', abs($value) < 1e-12 ? 0.0 : $value) : $value);
}

it('keeps what visitors come to step by step, in any order, and says what a log of the same says', function () {
    $settings = AuditLogs::settings(['double-order:strength=0.6', 'copies:strength=0.1'], 500, 14);
    $experiment = ($this->begun)($settings);
    $events = iterator_to_array((new LogMaker($settings))->events(), false);
    $shuffled = array_values(array_column($events, null, 'id'));
    mt_srand(5);
    shuffle($shuffled);
    foreach (array_chunk($shuffled, (int) ceil(count($shuffled) / 4)) as $part) {
        ($this->arrive)($part);
    }
    $now = CarbonImmutable::parse('2026-03-16 12:00:00', 'UTC');
    $kept = ReadoutMaker::of($experiment->refresh(), $now);
    $read = readoutOfLog($experiment, $events, $now);
    expect($kept->units())->toBeGreaterThan(100)
        ->and(rounded($kept->figures()))->toEqual(rounded($read->figures()))
        ->and(rounded(Details::of($kept)))->toEqual(rounded(Details::of($read)));
    // Made again from the events it is the same; and so is what is left where some are left out.
    $rebuild = app(Rebuild::class);
    $rebuild->begin($this->site);
    while ($rebuild->work($this->site->refresh())) {
        // The next part.
    }
    expect(rounded(ReadoutMaker::of($experiment->refresh(), $now)->figures()))->toEqual(rounded($read->figures()));
    $exclusion = ['kind' => 'internal', 'name' => 'Own people', 'visitors' => array_slice(array_values(array_unique(array_column($events, 'visitor'))), 0, 100)];
    DB::table('exclusions')->insert(['site_id' => $this->site->id, 'experiment_id' => $experiment->id, 'definition' => json_encode($exclusion), 'reason' => 'x', 'author' => 'P', 'made_at' => '2026-03-16 11:00:00']);
    $this->site->recount();
    $this->gather($this->site->refresh());
    $left = readoutOfLog($experiment, $events, $now, [[...$exclusion, 'made' => '2026-03-16T11:00:00Z']]);
    expect($left->units())->toBeLessThan($read->units())->and(rounded(ReadoutMaker::of($experiment->refresh(), $now)->figures()))->toEqual(rounded($left->figures()));
});

it('shows no figure of a broken split until somebody says why, and every file says it', function () {
    $settings = AuditLogs::settings(['lose:variant=short:strength=0.5'], 1500, 14);
    $experiment = ($this->begun)($settings);
    ($this->call)('GET', "/experiments/{$experiment->key}/readout")->assertOk()->assertJsonPath('state', 'none');
    ($this->call)('GET', "/experiments/{$experiment->key}/readout.csv")->assertNotFound();
    ($this->arrive)(iterator_to_array((new LogMaker($settings))->events(), false));
    $covered = ($this->call)('GET', "/experiments/{$experiment->key}/readout")->assertOk()->assertJsonPath('state', 'made')->assertJsonPath('report.gate.open', false)->json();
    expect($covered['report']['goals'][0]['variants'])->toBe([['key' => 'control', 'control' => true], ['key' => 'short', 'control' => false]])
        ->and(json_encode($covered['report']))->not->toContain('"rate":')->not->toContain('"points"')->not->toContain('"n"')
        ->and($covered['proposal'])->toBeNull()->and(Decision::query()->count())->toBe(0);
    ($this->call)('POST', "/experiments/{$experiment->key}/readout/cover", ['reason' => ' '])->assertUnprocessable()->assertJsonPath('errors.reason.0', fn (string $words): bool => str_contains($words, 'Say why'));
    $shown = ($this->call)('POST', "/experiments/{$experiment->key}/readout/cover", ['reason' => 'The <b>proxy</b> drops them alike'])->assertOk()->json();
    expect($shown['report']['gate'])->toMatchArray(['open' => false, 'lifted' => true, 'reason' => 'The <b>proxy</b> drops them alike'])->and($shown['report']['goals'][0]['variants'][0]['n'])->toBeGreaterThan(100);
    ($this->call)('POST', "/experiments/{$experiment->key}/readout/cover", ['reason' => 'Again'])->assertUnprocessable();
    $file = fn (string $format): string => (string) $this->actingAs($this->person)->get("/api/sites/{$this->site->key}/experiments/{$experiment->key}/readout.{$format}")->assertOk()->getContent();
    expect($file('csv'))->toContain('The <b>proxy</b> drops them alike')->and($file('json'))->toContain('drops them alike')
        ->and($file('html'))->toContain('The &lt;b&gt;proxy&lt;/b&gt; drops them alike')->not->toContain('<b>proxy');
    ($this->call)('GET', '/logbook')->assertOk()->assertJsonPath('entries.0.what', 'cover lifted');
    ($this->call)('DELETE', "/experiments/{$experiment->key}/readout/cover")->assertOk()->assertJsonPath('report.gate.lifted', false)->assertJsonPath('lifts.0.put_back_by', $this->person->name);
    // An audit that somebody has explained blocks no more; the chain that is broken does.
    Audit::query()->create(['site_id' => $this->site->id, 'experiment_id' => $experiment->id, 'name' => 'A', 'state' => 'done', 'why' => 'asked', 'by' => 'P', 'engine' => 3, 'asked_at' => now(), 'settings' => []]);
    ($this->call)('GET', "/experiments/{$experiment->key}/readout")->assertOk()->assertJsonPath('report.gate.findings.0.code', 'chain.split');
});

it('proposes at the planned end what the rule says, tells it, and keeps what a person decides', function () {
    $settings = AuditLogs::settings([], 600, 14);
    $experiment = ($this->begun)($settings);
    $this->travelTo('2026-03-10 12:00:00');
    $events = iterator_to_array((new LogMaker($settings))->events(), false);
    ($this->arrive)(array_values(array_filter($events, fn (array $one): bool => $one['time'] < 1000 * strtotime('2026-03-10T00:00:00Z'))));
    ($this->call)('GET', "/experiments/{$experiment->key}/readout")->assertOk()->assertJsonPath('report.interval', 'anytime')->assertJsonPath('report.goals.0.verdict', 'too-early')->assertJsonPath('decisions', []);
    $this->travelTo('2026-03-16 12:00:00');
    ($this->arrive)($events);
    $over = ($this->call)('GET', "/experiments/{$experiment->key}/readout")->assertOk()->assertJsonPath('report.interval', 'planned')->assertJsonPath('report.over', true)->json();
    expect($over['decisions'])->toHaveCount(1)->and($over['decisions'][0])->toMatchArray(['state' => 'proposed', 'choice' => 'control', 'by' => 'The declared rule'])
        ->and($over['decisions'][0]['known'])->toContain('No difference found')
        ->and(Notice::query()->where('code', 'decision.due')->count())->toBe(1)->and(Delivery::query()->where('user_id', $this->person->id)->where('kind', 'trouble')->count())->toBe(1);
    ($this->arrive)([]);
    expect(Decision::query()->count())->toBe(1);
    $decide = ['choice' => 'short', 'because' => 'It is cheaper to keep', 'learned' => 'Steps do not matter', 'serves' => true];
    $this->as($this->makePersonWho('work', $this->site), 'POST', "/api/sites/{$this->site->key}/experiments/{$experiment->key}/decisions", $decide)->assertForbidden();
    ($this->call)('POST', "/experiments/{$experiment->key}/decisions", [...$decide, 'choice' => 'other'])->assertUnprocessable()->assertJsonPath('errors.choice.0', 'There is no variant "other".');
    ($this->call)('POST', "/experiments/{$experiment->key}/decisions", $decide)->assertCreated()->assertJsonPath('known', fn (string $words): bool => str_contains($words, 'No difference found'));
    expect($experiment->refresh()->only('state', 'kept_variant'))->toBe(['state' => 'ended', 'kept_variant' => 'short'])
        ->and(Decision::query()->orderBy('id')->pluck('state')->all())->toBe(['dropped', 'made']);
    foreach (['steps matter' => 1, 'fewer cheaper' => 1, 'nothing%' => 0, 'dropped' => 0] as $search => $found) {
        expect(($this->call)('GET', '/decisions?'.http_build_query(['search' => $search]))->assertOk()->json())->toHaveCount($found, $search);
    }
});

it('acts where the rule says so and nothing blocks, and never by figures whose cover was lifted', function (array $faults, string $state) {
    $settings = AuditLogs::settings($faults, 1200, 14);
    $experiment = ($this->begun)($settings, ['decision' => ['by' => 'primary', 'acts' => true]]);
    ($this->arrive)(iterator_to_array((new LogMaker($settings))->events(), false));
    if ($state === 'running') {
        ($this->call)('POST', "/experiments/{$experiment->key}/readout/cover", ['reason' => 'To look'])->assertOk();
        ($this->arrive)([]);
    }
    expect($experiment->refresh()->state)->toBe($state)->and(Decision::query()->pluck('state')->all())->toBe($state === 'running' ? ['proposed'] : ['made']);
})->with([[[], 'ended'], [['lose:variant=short:strength=0.5'], 'running']]);

it('keeps the rule of a draft, and none of what has started', function () {
    $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/experiments", experimentRequest())->assertCreated();
    $goal = $this->site->goals()->value('key');
    $rule = ['by' => 'guarded', 'worthwhile' => 0.02, 'margins' => [$goal => 0.01], 'earlier_days' => 7];
    ($this->call)('PUT', '/experiments/shorter-words/decision-rule', ['rule' => $rule])->assertOk()->assertJsonPath('rule.margins', [$goal => 0.01]);
    ($this->call)('GET', '/experiments/shorter-words/file')->assertOk()->assertJsonPath('decision.by', 'guarded');
    foreach ([[['by' => 'nobody'], 'by'], [['by' => 'person', 'acts' => true], 'acts'], [['margins' => ['none' => 1]], 'margins'], [['worthwhile' => 0], 'worthwhile'], [['earlier_days' => 1.5], 'earlier_days'], [['strange' => 1], 'strange']] as [$wrong, $field]) {
        ($this->call)('PUT', '/experiments/shorter-words/decision-rule', ['rule' => $wrong])->assertUnprocessable()->assertJsonPath("errors.{$field}.0", fn (?string $words): bool => $words !== null);
    }
    ($this->call)('POST', '/experiments/shorter-words/decisions', ['choice' => 'control', 'because' => 'x', 'serves' => false])->assertConflict();
    ($this->call)('POST', '/experiments/shorter-words/stage', ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    ($this->call)('PUT', '/experiments/shorter-words/decision-rule', ['rule' => null])->assertConflict();
    expect($this->site->experiments()->value('decision'))->toContain('guarded');
});

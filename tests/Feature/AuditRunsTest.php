<?php

use App\Audits\Auditor;
use App\Audits\Audits;
use App\Audits\Glances;
use App\Audits\LogPieces;
use App\Audits\RowFinder;
use App\Audits\Watchman;
use App\Cli\AuditCommand;
use App\Models\Audit;
use App\Models\Delivery;
use App\Models\Notice;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Tests\Support\AuditLogs;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
});

/** Brings a log by its API, and has it audited. */
function auditedLog(mixed $test, string $name, string $bytes, array $experiment, ?array $mapping): Audit
{
    $log = $test->as($test->person, 'POST', "{$test->path}/audit-logs", ['name' => $name, 'size' => strlen($bytes)])->assertCreated()->json('log');
    putPiece($test, $log, 0, $bytes)->assertOk()->assertJsonPath('state', 'whole');
    $test->as($test->person, 'PUT', "{$test->path}/audit-logs/{$log}", ['experiment' => $experiment, 'mapping' => $mapping])->assertOk();

    return auditAgain($test, ['log' => $log]);
}

function auditAgain(mixed $test, array $what): Audit
{
    $id = $test->as($test->person, 'POST', "{$test->path}/audits", $what)->assertStatus(202)->assertJsonPath('state', 'waiting')->json('audit');
    $auditor = app(Auditor::class);
    $next = $auditor->next('test:1');
    expect($next?->id)->toBe($id);
    $auditor->make($next, fn () => false);

    return Audit::query()->findOrFail($id);
}

function putPiece(mixed $test, int $log, int $offset, string $bytes): Illuminate\Testing\TestResponse
{
    return $test->call('PUT', "{$test->path}/audit-logs/{$log}/pieces/{$offset}", [], [], [], ['CONTENT_TYPE' => 'application/octet-stream', 'HTTP_ACCEPT' => 'application/json'], $bytes);
}

/** @return array{string, array<string, mixed>, array<string, mixed>} a log with columns of another make, its experiment, and the mapping */
function foreignLog(array $faults, int $visitors = 1500): array
{
    $settings = AuditLogs::settings($faults, $visitors, 14);
    $csv = "ts;who;what;where;test;grp;ua;hit\n";
    foreach (AuditLogs::lines($settings) as $line) {
        $event = json_decode($line, true);
        $csv .= implode(';', [strtotime($event['time']), $event['visitor'], $event['name'], $event['url'], $event['props']['experiment'] ?? '', $event['props']['variant'] ?? '', '"'.$event['agent'].'"', $event['id']])."\n";
    }

    return [(string) gzencode($csv), [...$settings->experiment(), 'goals' => []], ['columns' => ['time' => 'ts', 'visitor' => 'who', 'name' => 'what', 'url' => 'where', 'experiment' => 'test', 'variant' => 'grp', 'agent' => 'ua', 'id' => 'hit'], 'time' => ['format' => 'seconds']]];
}

it('audits a log of other columns, and says the same on its page, in its files and by the command', function () {
    [$bytes, $experiment, $mapping] = foreignLog(['lose:variant=short:browser=safari:strength=0.8']);
    $audit = auditedLog($this, 'events.csv.gz', $bytes, $experiment, $mapping);
    expect($audit->state)->toBe('done', $audit->doing)->and($audit->verdict)->toBe('unfit')->and($audit->sentence)->toContain('short')->toContain('safari');
    $page = $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}")->assertOk()->json();
    $file = $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}/report.json")->assertOk()->json();
    $folder = sys_get_temp_dir().'/audit-same-'.getmypid();
    mkdir($folder);
    file_put_contents("{$folder}/log.csv.gz", $bytes);
    file_put_contents("{$folder}/experiment.json", json_encode([...$experiment, 'audit' => ['time_zone' => $this->site->time_zone, ...$experiment['audit'] ?? []]]));
    file_put_contents("{$folder}/map.json", json_encode($mapping));
    $out = fopen('php://memory', 'w+');
    $exit = AuditCommand::run(["{$folder}/log.csv.gz", "--experiment={$folder}/experiment.json", "--map={$folder}/map.json", '--json', "--html={$folder}/report.html", "--csv={$folder}/findings.csv"], STDIN, $out, STDERR);
    rewind($out);
    $command = json_decode((string) stream_get_contents($out), true);
    expect($exit)->toBe(1)->and($file)->toBe($command)->and($page['read']['report'])->toBe($command)->and($page['fingerprint'])->toBe($command['fingerprint']);
    $html = $this->get("{$this->path}/audits/{$audit->id}/report.html")->assertOk()->getContent();
    $csv = $this->get("{$this->path}/audits/{$audit->id}/report.csv")->assertOk()->getContent();
    expect($html)->toBe(file_get_contents("{$folder}/report.html"))->and($csv)->toBe(file_get_contents("{$folder}/findings.csv"))
        ->and($html)->toContain(number_format($command['counts']['variants']['short'], 0, '.', "\u{202f}"))->not->toContain('<script');
    array_map(unlink(...), glob("{$folder}/*"));
    rmdir($folder);
    // A part of it, tested again.
    $row = array_values(array_filter($page['read']['views']['segments']['rows'], fn (array $one) => $one['dimension'] === 'browser' && $one['value'] === 'safari'))[0];
    $part = $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}/part?dimension=browser&value=safari")->assertOk()->json();
    expect(array_values($part['variants']))->toBe($row['observed'])->and($part['verdict'])->toBe('unfit');
    $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}/part?since=yesterday")->assertStatus(422)->assertJsonValidationErrors('since');
    $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}/part?since=2026-03-09T00:00:00Z&until=2026-03-08T00:00:00Z")->assertStatus(422)->assertJsonValidationErrors('until');
});

it('compares an audit with the one before, and keeps what was said of its findings', function () {
    [$bytes, $experiment, $mapping] = foreignLog(['lose:variant=short:browser=safari:strength=0.8'], 1000);
    $first = auditedLog($this, 'events.csv.gz', $bytes, $experiment, $mapping);
    $finding = $this->as($this->person, 'GET', "{$this->path}/audits/{$first->id}")->json('read.report.findings.0');
    $say = fn (array $body) => $this->as($this->person, 'PUT', "{$this->path}/audits/{$first->id}/findings", ['identity' => $finding['identity'], ...$body]);
    $say(['state' => 'explained'])->assertStatus(422)->assertJsonValidationErrors('note');
    $say(['state' => 'explained', 'note' => 'An old browser', 'until' => '2020-01-01'])->assertStatus(422)->assertJsonValidationErrors('until');
    $say(['state' => 'mended', 'note' => 'x', 'identity' => 'nothing'])->assertStatus(422)->assertJsonValidationErrors('identity');
    $say(['state' => 'explained', 'note' => 'An old browser'])->assertOk()->assertJsonPath('read.standings.0.standing', 'explained');
    $second = auditAgain($this, ['log' => $first->audit_log_id]);
    $this->as($this->person, 'GET', "{$this->path}/audits/{$second->id}")->assertOk()->assertJsonPath('since_last.audit', $first->id)->assertJsonPath('since_last.words', 'nothing new, nothing mended')
        ->assertJsonPath('read.standings.0.note', 'An old browser')->assertJsonPath('fingerprint', $first->fingerprint);
    $say(['state' => null])->assertOk()->assertJsonPath('read.standings', []);
    // With another mapping nobody is exposed any more: what was found is gone.
    $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$first->audit_log_id}", ['experiment' => ['key' => 'another'] + $experiment, 'mapping' => $mapping])->assertOk();
    $third = auditAgain($this, ['log' => $first->audit_log_id]);
    expect($third->verdict)->toBe('doubt')->and($third->since_last['mended'])->not->toBe([]);
    $this->as($this->person, 'GET', "{$this->path}/audits?log={$first->audit_log_id}")->assertOk()->assertJsonCount(3);
    $this->as($this->person, 'DELETE', "{$this->path}/audit-logs/{$first->audit_log_id}")->assertNoContent();
    expect(Audit::query()->count())->toBe(0)->and(DB::table('audit_log_pieces')->count())->toBe(0);
});

it('takes a log piece by piece, in order, and goes on where it was', function () {
    $bytes = random_bytes(LogPieces::BYTES + 1000);
    $log = $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => 'x.bin', 'size' => strlen($bytes)])->json('log');
    putPiece($this, $log, LogPieces::BYTES, substr($bytes, LogPieces::BYTES))->assertStatus(422)->assertJsonPath('errors.offset.0', 'The next piece begins at byte 0.');
    putPiece($this, $log, 0, substr($bytes, 0, 1000))->assertStatus(422);
    putPiece($this, $log, 0, substr($bytes, 0, LogPieces::BYTES))->assertOk()->assertJsonPath('received', LogPieces::BYTES)->assertJsonPath('state', 'arriving');
    putPiece($this, $log, 0, substr($bytes, 0, LogPieces::BYTES))->assertOk()->assertJsonPath('received', LogPieces::BYTES);
    $this->as($this->person, 'POST', "{$this->path}/audits", ['log' => $log])->assertStatus(422)->assertJsonValidationErrors('log');
    putPiece($this, $log, LogPieces::BYTES, substr($bytes, LogPieces::BYTES).'too much')->assertStatus(422);
    putPiece($this, $log, LogPieces::BYTES, substr($bytes, LogPieces::BYTES))->assertOk()->assertJsonPath('state', 'whole');
    $kept = $this->site->auditLogs()->firstOrFail();
    $file = app(LogPieces::class)->file($kept);
    expect(file_get_contents($file) === $bytes)->toBeTrue()->and($kept->refresh()->sha256)->toBe(hash('sha256', $bytes));
    unlink($file);
    $this->as($this->person, 'GET', "{$this->path}/audit-logs/{$log}")->assertOk();
    $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => 'x', 'size' => 3_000_000_000])->assertStatus(422)->assertJsonPath('errors.size.0', 'A log may have 2 GB; pack a longer one by gzip.');
    $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => '', 'size' => 0])->assertStatus(422)->assertJsonValidationErrors(['name', 'size']);
});

it('shows the first lines of a log, guesses its columns, and says what is wrong with a mapping', function () {
    [$bytes, $experiment] = foreignLog([], 200);
    $csv = (string) gzdecode($bytes);
    $log = $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => 'events.csv', 'size' => strlen($csv)])->json('log');
    putPiece($this, $log, 0, $csv)->assertOk();
    $head = $this->as($this->person, 'GET', "{$this->path}/audit-logs/{$log}")->assertOk()->json('head');
    expect($head['columns'])->toBe(['ts', 'who', 'what', 'where', 'test', 'grp', 'ua', 'hit'])->and($head['proposal']['columns']['time'])->toBe('ts')->and($head['tried']['with'])->toBe('none')->and($head['tried']['left_out'][0]['reason'])->toContain('no column');
    $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$log}", ['experiment' => $experiment, 'mapping' => ['columns' => ['visitor' => 'who']]])->assertStatus(422)->assertJsonValidationErrors('mapping');
    $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$log}", ['experiment' => ['key' => 'x'], 'mapping' => null])->assertStatus(422)->assertJsonValidationErrors('experiment');
    $mapping = ['columns' => ['time' => 'ts', 'visitor' => 'who', 'name' => 'what', 'url' => 'where', 'experiment' => 'test', 'variant' => 'grp'], 'time' => ['format' => 'seconds']];
    $tried = $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$log}", ['experiment' => null, 'mapping' => $mapping])->assertOk()->json('head.tried');
    expect($tried['with'])->toBe('mapping')->and($tried['events'])->toBe($tried['lines'])->and(array_keys($tried['experiments']['loan-steps']))->toEqualCanonicalizing(['control', 'short']);
    $this->as($this->person, 'POST', "{$this->path}/audits", ['log' => $log])->assertStatus(422)->assertJsonPath('errors.log.0', 'Say for which experiment it is to be audited: bring its experiment file.');
    // What is no log at all is said so, and takes nothing down.
    $broken = $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => 'x.ndjson', 'size' => 9])->json('log');
    putPiece($this, $broken, 0, "\x1f\x8b\x08\0abc\0\xff")->assertOk();
    expect($this->as($this->person, 'GET', "{$this->path}/audit-logs/{$broken}")->assertOk()->json('head.trouble'))->not->toBeNull();
    $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$broken}", ['experiment' => $experiment, 'mapping' => null])->assertOk();
    expect(auditAgain($this, ['log' => $broken])->verdict)->not->toBe('fit');
});

it('is asked for once at a time, cancelled, and ended when it takes its process down again and again', function () {
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    $this->as($this->person, 'POST', "{$this->path}/audits", ['experiment' => 'shorter-words'])->assertStatus(422)->assertJsonPath('errors.experiment.0', 'It has not been started: there is nothing to audit.');
    $this->as($this->person, 'POST', "{$this->path}/audits", ['experiment' => 'nowhere'])->assertStatus(422);
    $this->as($this->person, 'POST', "{$this->path}/audits", [])->assertStatus(422)->assertJsonValidationErrors('experiment');
    $this->as($this->person, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $id = $this->as($this->person, 'POST', "{$this->path}/audits", ['experiment' => 'shorter-words'])->assertStatus(202)->json('audit');
    $this->as($this->person, 'POST', "{$this->path}/audits", ['experiment' => 'shorter-words'])->assertStatus(422)->assertJsonValidationErrors('experiment');
    $this->as($this->person, 'GET', "{$this->path}/audits/{$id}")->assertOk()->assertJsonPath('read', null);
    $this->get("{$this->path}/audits/{$id}/report.html")->assertNotFound();
    $this->as($this->person, 'DELETE', "{$this->path}/audits/{$id}")->assertOk()->assertJsonPath('state', 'cancelled');
    $this->as($this->person, 'POST', "{$this->path}/audits", ['experiment' => 'shorter-words'])->assertStatus(202);
    $auditor = app(Auditor::class);
    for ($try = 0; $try < 2; $try++) {
        expect($auditor->next('test:1'))->not->toBeNull();
        Audit::query()->update(['lease' => '2020-01-01 00:00:00']);
    }
    expect($auditor->next('test:1'))->toBeNull()->and(Audit::query()->latest('id')->value('state'))->toBe('failed');
    $looking = $this->makePersonWho('look', $this->site);
    $this->as($looking, 'POST', "{$this->path}/audits", ['experiment' => 'shorter-words'])->assertForbidden();
    $this->as($this->makePerson($this->makeSite('plx_othersite00001')), 'GET', "{$this->path}/audits")->assertNotFound();
});

it('has running experiments audited every day and an hour after each publication, no oftener', function () {
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    $this->as($this->person, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $watchman = app(Watchman::class);
    $now = CarbonImmutable::now('UTC');
    $asked = fn () => Audit::query()->orderBy('id')->pluck('why')->all();
    $watchman->due($now);
    expect($asked())->toBe([]);
    $tomorrow = $now->setTimezone($this->site->time_zone)->addDays(2)->setTime(5, 30);
    Audit::query()->update(['state' => 'done']);
    $watchman->due($tomorrow);
    $watchman->due($tomorrow->addMinute());
    expect($asked())->toBe(['daily']);
    Audit::query()->update(['state' => 'done', 'asked_at' => $tomorrow->utc()->format('Y-m-d H:i:s.v')]);
    $watchman->due($tomorrow->addHours(3));
    expect($asked())->toBe(['daily']);
    DB::table('publications')->where('site_id', $this->site->id)->update(['published_at' => $tomorrow->utc()->addHours(4)->format('Y-m-d H:i:s.v')]);
    $watchman->due($tomorrow->addHours(4)->addMinutes(30));
    expect($asked())->toBe(['daily']);
    $watchman->due($tomorrow->addHours(5)->addMinute());
    expect($asked())->toBe(['daily', 'published']);
    Audit::query()->update(['state' => 'done', 'asked_at' => $tomorrow->utc()->addHours(6)->format('Y-m-d H:i:s.v')]);
    $watchman->due($tomorrow->addHours(7));
    expect($asked())->toBe(['daily', 'published']);
});

it('tells a trouble of a running experiment once, until it was seen', function () {
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    $this->as($this->person, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $audit = app(Audits::class)->ofExperiment($this->site->experiments()->firstOrFail(), $this->person);
    $report = AuditLogs::faulty(['lose:variant=short:browser=safari:strength=0.6'], 4000);
    $watchman = app(Watchman::class);
    $now = CarbonImmutable::now('UTC')->subHour();
    $watchman->look($audit, $report, $now);
    $watchman->look($audit, $report, $now->addMinutes(10));
    expect(Delivery::query()->pluck('user_id')->all())->toBe([$this->person->id]);
    $told = $this->as($this->person, 'GET', "{$this->path}/notices")->assertOk()->assertJsonCount(1)->json('0');
    expect($told['new'])->toBeTrue()->and($told['severity'])->toBe('blocker')->and($told['experiment'])->toBe('shorter-words')->and($told['over'])->toBeNull();
    $this->as($this->person, 'PUT', "{$this->path}/notices/seen")->assertOk()->assertJsonPath('0.new', false);
    $this->as($this->makePersonWho('look', $this->site), 'GET', "{$this->path}/notices")->assertOk()->assertJsonPath('0.new', true);
    $watchman->look($audit, AuditLogs::faulty([], 4000), $now->addMinutes(20));
    expect(Notice::query()->firstOrFail()->over_at)->not->toBeNull();
});

it('shares a report by a link that ends and can be revoked', function () {
    [$bytes, $experiment, $mapping] = foreignLog(['lose:variant=short:browser=safari:strength=0.8'], 600);
    $audit = auditedLog($this, 'events.csv.gz', $bytes, $experiment, $mapping);
    $shares = "{$this->path}/audits/{$audit->id}/shares";
    $this->as($this->person, 'POST', $shares, ['recipient' => '', 'days' => 0])->assertStatus(422)->assertJsonValidationErrors(['recipient', 'days']);
    $share = $this->as($this->person, 'POST', $shares, ['recipient' => 'The client', 'days' => 7])->assertCreated()->json();
    $path = (string) parse_url($share['address'], PHP_URL_PATH);
    auth()->forgetGuards();
    $page = $this->get($path)->assertOk()->assertHeader('Referrer-Policy', 'no-referrer')->assertHeader('X-Robots-Tag', 'noindex, nofollow');
    expect($page->getContent())->toContain('Not fit to decide on')->not->toContain('<script');
    $this->get("{$path}.csv")->assertOk();
    expect($this->get("{$path}.json")->assertOk()->json('verdict'))->toBe('unfit');
    $this->get('/audit/'.str_repeat('a', 43))->assertNotFound();
    $this->as($this->person, 'GET', $shares)->assertOk()->assertJsonPath('0.recipient', 'The client');
    expect($this->as($this->person, 'DELETE', "{$shares}/{$share['share']}")->assertOk()->json('address'))->toBeNull();
    $this->get($path)->assertNotFound();
    $second = $this->as($this->person, 'POST', $shares, ['recipient' => 'x', 'days' => 1])->json('address');
    $this->travel(2)->days();
    $this->get((string) parse_url($second, PHP_URL_PATH))->assertNotFound();
    $this->as($this->makePersonWho('look', $this->site), 'POST', $shares, ['recipient' => 'x', 'days' => 1])->assertForbidden();
});

it('leaves out what an exclusion says from the next audit on, shows it with and without, and withdraws it', function () {
    [$bytes, $experiment, $mapping] = foreignLog(['bots:variant=short:strength=0.2'], 2500);
    $first = auditedLog($this, 'events.csv.gz', $bytes, $experiment, $mapping);
    $read = fn (Audit $audit, string $query = '') => $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}{$query}")->assertOk()->json('read');
    $made = ['exclusion' => ['name' => 'Programs', 'kind' => 'bots'], 'reason' => 'They are no visitors', 'everywhere' => true];
    $path = "{$this->path}/audits/{$first->id}/exclusions";
    $this->as($this->makePersonWho('look', $this->site), 'POST', $path, $made)->assertForbidden();
    $exclusion = $this->as($this->person, 'POST', $path, $made)->assertCreated()->json('id');
    $this->as($this->person, 'POST', $path, $made)->assertStatus(422)->assertJsonValidationErrors(['exclusion.name']);
    $this->as($this->person, 'POST', $path, [...$made, 'exclusion' => ['name' => 'B', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'nope', 'value' => '/']]])->assertStatus(422)->assertJsonValidationErrors(['exclusion.rule.op']);
    $this->as($this->person, 'POST', $path, [...$made, 'exclusion' => ['x']])->assertStatus(422)->assertJsonValidationErrors(['exclusion.name']);
    // What was made before it stays as it is.
    expect($read($first)['excludes'])->toBeFalse();
    $second = auditAgain($this, ['log' => $first->audit_log_id]);
    [$with, $whole] = [$read($second), $read($second, '?whole=1')];
    expect([$with['excludes'], $with['whole'], $whole['excludes'], $whole['whole'], $whole['parts']])->toBe([true, false, true, true, false])
        ->and($with['report']['exclusions'][0]['visitors'])->toBeGreaterThan(50)
        ->and($with['report']['counts']['events'])->toBeLessThan($whole['report']['counts']['events'])
        ->and($whole['report'])->toBe($read($first)['report'])
        ->and($second->fingerprint)->toBe($first->fingerprint);
    $json = fn (string $query) => $this->as($this->person, 'GET', "{$this->path}/audits/{$second->id}/report.json{$query}")->assertOk()->json();
    expect($json(''))->toBe($with['report'])->and($json('?whole=1'))->toBe($whole['report']);
    expect($this->actingAs($this->person)->get("{$this->path}/audits/{$second->id}/report.html")->assertOk()->getContent())->toContain('<td>Programs</td>');
    $this->as($this->person, 'DELETE', "{$this->path}/exclusions/{$exclusion}")->assertOk()->assertJsonPath('withdrawn_by', $this->person->name);
    $this->as($this->person, 'GET', $path)->assertOk()->assertJsonCount(1)->assertJsonPath('0.everywhere', false);
    expect($read(auditAgain($this, ['log' => $first->audit_log_id]))['report'])->toBe($read($first)['report']);
    expect($this->as($this->person, 'GET', "{$this->path}/logbook?thing=exclusion")->assertOk()->json('entries'))->toHaveCount(2);
});

it('opens its numbers to who is behind them', function () {
    [$bytes, $experiment, $mapping] = foreignLog(['lose:variant=short:browser=safari:strength=0.8'], 900);
    $audit = auditedLog($this, 'events.csv.gz', $bytes, $experiment, $mapping);
    $report = $this->as($this->person, 'GET', "{$this->path}/audits/{$audit->id}")->json('read.report');
    $ask = fn (string $query) => $this->as($this->makePersonWho('look', $this->site), 'GET', "{$this->path}/audits/{$audit->id}/rows?{$query}");
    $find = function (string $query) use ($ask): array {
        $ask($query)->assertOk()->assertJsonPath('state', 'waiting')->assertJsonPath('found', null);
        // However often it is asked for, it is looked for once.
        $ask($query)->assertJsonPath('state', 'waiting');
        $finder = app(RowFinder::class);
        $finder->make($finder->next('test:1'));
        expect($finder->next('test:1'))->toBeNull();

        return $ask($query)->assertOk()->assertJsonPath('state', 'done')->json('found');
    };
    foreach ($report['counts']['variants'] as $variant => $n) {
        expect($find("behind=exposed&variant={$variant}")['total'])->toBe($n);
    }
    $segment = collect($report['srm']['segments'])->firstWhere('value', 'safari');
    $found = $find('behind=exposed&variant=short&dimension=browser&value=safari');
    expect($found['total'])->toBe($segment['observed'][1])->and(array_unique(array_column($found['rows'], 'browser')))->toBe(['safari']);
    $ask('behind=nobody')->assertStatus(422)->assertJsonValidationErrors(['behind']);
    $ask('behind=hits')->assertStatus(422)->assertJsonValidationErrors(['goal']);
    $ask('behind=exposed&variant=nope')->assertStatus(422)->assertJsonValidationErrors(['variant']);
    $ask('behind=exposed&dimension=browser')->assertStatus(422)->assertJsonValidationErrors(['value']);
    $ask('behind=exposed&since=yesterday')->assertStatus(422)->assertJsonValidationErrors(['since']);
    $this->as($this->makePerson($this->makeSite('plx_othersite00001')), 'GET', "{$this->path}/audits/{$audit->id}/rows?behind=exposed")->assertNotFound();
});

it('looks at the split between audits by what is new alone, and has it audited once where it seems off', function () {
    $this->travelTo('2026-07-20 12:00:00');
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    $this->as($this->person, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $experiment = $this->site->experiments()->firstOrFail();
    $this->gather();
    $count = DB::table('counts')->where('kind', 'experiment')->where('subject_id', $experiment->id)->where('state', 'current')->value('id');
    $keys = array_column($experiment->file()['variants'], 'key');
    // Visitors of a day, by variant; each was first exposed at noon.
    $come = function (string $day, array $numbers) use ($count, $keys): void {
        foreach ($numbers as $i => $n) {
            DB::table('participations')->insert(array_map(fn (int $k): array => ['site_id' => $this->site->id, 'unit' => "{$day} {$i} {$k}", 'count_id' => $count, 'views' => 1, 'exposures' => 1, 'applied' => 0, 'missed' => 0, 'variant' => $keys[$i], 'crossed' => 0, 'epoch' => 0, 'first' => "{$day} 12:00:00", 'last' => "{$day} 12:00:00"], range(1, $n)));
        }
    };
    $look = function (string $now): array {
        $this->travelTo($now);
        app(Glances::class)->due(CarbonImmutable::now('UTC'));

        return Audit::query()->orderBy('id')->pluck('why')->all();
    };
    foreach (range(20, 26) as $day) {
        $come("2026-07-{$day}", [60, 60]);
    }
    expect($look('2026-07-26 18:00:00'))->toBe([]);
    // Days that are closed are not read again: what becomes of them is the daily audit's.
    expect((array) json_decode((string) DB::table('glances')->value('days'), true))->toHaveKeys(['2026-07-20', '2026-07-22'])->not->toHaveKey('2026-07-24');
    DB::table('participations')->where('first', '2026-07-20 12:00:00')->delete();
    expect($look('2026-07-26 18:10:00'))->toBe([])->and(json_decode((string) DB::table('glances')->value('days'), true)['2026-07-20'])->toBe([[60, 60]]);
    // Half of a variant's visitors are lost from one day on.
    $come('2026-07-27', [80, 30]);
    $come('2026-07-28', [80, 30]);
    expect($look('2026-07-28 18:00:00'))->toBe(['suspected'])->and($look('2026-07-28 18:10:00'))->toBe(['suspected']);
    Audit::query()->update(['state' => 'done']);
    expect($look('2026-07-28 18:20:00'))->toBe(['suspected'])->and($look('2026-07-29 01:00:00'))->toBe(['suspected', 'suspected']);
    // Once it was told there is nothing more to suspect.
    Audit::query()->update(['state' => 'done']);
    Notice::query()->create(['site_id' => $this->site->id, 'experiment_id' => $experiment->id, 'identity' => 'srm.onset', 'code' => 'srm.onset', 'severity' => 'blocker', 'message' => 'm', 'areas' => ['srm'], 'at' => CarbonImmutable::now('UTC')]);
    expect($look('2026-07-29 12:00:00'))->toBe(['suspected', 'suspected']);
});

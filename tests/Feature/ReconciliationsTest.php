<?php

use App\Audits\Reconciler;
use App\Cli\ReconcileCommand;
use App\Models\Reconciliation;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use Tests\Support\AuditLogs;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
    $this->bring = function (string $csv, array $fields, ?object $person = null): TestResponse {
        return $this->actingAs($person ?? $this->person)->call('POST', "{$this->path}/reconciliations", $fields, [], ['file' => UploadedFile::fake()->createWithContent('other.csv', $csv)], ['HTTP_ACCEPT' => 'application/json']);
    };
    $this->make = function (): void {
        $reconciler = app(Reconciler::class);
        $reconciler->make($reconciler->next('test:1') ?? throw new RuntimeException('Nothing waits.'));
    };
    $this->settings = AuditLogs::settings(visitors: 1000, days: 14);
    $this->lines = fn (): array => AuditLogs::lines($this->settings);
    // A log that was brought, with its experiment.
    $this->log = function (): int {
        $bytes = (string) gzencode(implode("\n", ($this->lines)()));
        $log = $this->as($this->person, 'POST', "{$this->path}/audit-logs", ['name' => 'events.ndjson.gz', 'size' => strlen($bytes)])->json('log');
        putPiece($this, $log, 0, $bytes)->assertOk();
        $this->as($this->person, 'PUT', "{$this->path}/audit-logs/{$log}", ['experiment' => $this->settings->experiment(), 'mapping' => null])->assertOk();

        return $log;
    };
});

it('says of files that are brought what the command says of them', function () {
    $log = ($this->log)();
    $folder = sys_get_temp_dir().'/'.uniqid('brought-');
    mkdir($folder);
    file_put_contents("{$folder}/log.ndjson", implode("\n", ($this->lines)()));
    file_put_contents("{$folder}/experiment.json", json_encode($this->settings->experiment()));
    $table = static function (string $head, int $scale): string {
        $csv = "{$head}\n";
        for ($day = 2; $day < 16; $day++) {
            foreach (['control' => 5, 'short' => 3] as $variant => $n) {
                $csv .= sprintf("2026-03-%02d,%s,%d\n", $day, $variant, $n * $scale + $day);
            }
        }

        return $csv;
    };
    $days = $table('day,variant,visitors', 4);
    $foreign = str_replace(['day,variant,visitors', ','], ['Date,Group,Users', ';'], $days);
    $orders = "order_id,time,value,currency\n";
    foreach (($this->lines)() as $line) {
        $props = json_decode($line, true)['props'] ?? [];
        $orders .= isset($props['order_id']) ? "{$props['order_id']},".json_decode($line, true)['time'].','.(crc32($props['order_id']) % 5 === 0 ? 1 : $props['value']).",EUR\n" : '';
    }
    $map = ['columns' => ['day' => 'Date', 'visitors' => 'Users', 'variant' => 'Group']];
    file_put_contents("{$folder}/map.json", json_encode($map));
    foreach ([
        [$days, [], []],
        [$foreign, ['mapping' => json_encode($map), 'tolerance' => '0.2'], ["--map={$folder}/map.json", '--tolerance=0.2']],
        [$table('day,variant,hits', 1), ['goal' => 'loan-noted'], ['--goal=loan-noted']],
        [$orders, ['window' => '60'], ['--window=60']],
    ] as [$csv, $fields, $options]) {
        $id = ($this->bring)($csv, ['log' => (string) $log, ...$fields])->assertStatus(202)->assertJsonPath('state', 'waiting')->json('reconciliation');
        ($this->make)();
        $read = $this->as($this->person, 'GET', "{$this->path}/reconciliations/{$id}")->assertOk()->assertJsonPath('state', 'done');
        file_put_contents("{$folder}/other.csv", $csv);
        $out = fopen('php://memory', 'w+');
        ReconcileCommand::run(["{$folder}/log.ndjson", "{$folder}/other.csv", "--experiment={$folder}/experiment.json", '--json', ...$options], STDIN, $out, fopen('php://memory', 'w+'));
        rewind($out);
        expect($read->json('result'))->toEqual(json_decode((string) stream_get_contents($out), true))->and($read->json('sentence'))->toBe($read->json('result.sentence'));
    }
    $this->as($this->person, 'GET', "{$this->path}/reconciliations")->assertOk()->assertJsonCount(4);
    array_map(unlink(...), glob("{$folder}/*") ?: []);
    rmdir($folder);
    $this->as($this->person, 'DELETE', "{$this->path}/reconciliations/{$id}")->assertNoContent();
    $this->as($this->person, 'GET', "{$this->path}/reconciliations/{$id}")->assertNotFound();
});

it('holds nothing against an experiment that has not been started', function () {
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertCreated();
    ($this->bring)("day,visitors\n2026-11-01,5\n", ['experiment' => 'shorter-words'])->assertStatus(422)->assertJsonValidationErrors(['experiment']);
});

it('says at the field what is wrong, and keeps nothing', function (string $csv, array $fields, string $field, string $words) {
    $log = ($this->log)();
    $errors = ($this->bring)($csv, [...($fields['experiment'] ?? null) === null ? ['log' => (string) $log] : [], ...$fields])->assertStatus(422)->json('errors');
    expect($errors[$field][0] ?? json_encode($errors))->toContain($words)->and(Reconciliation::query()->count())->toBe(0);
})->with([
    'no such columns' => ["a,b\n1,2\n", [], 'file', 'Line 1: The header row has neither'],
    'a day that is none' => ["day,visitors\n31.02.2026,4\n", [], 'file', 'Line 2'],
    'empty' => ['', [], 'file', 'Line 1'],
    'another mapping' => ["a,b\n1,2\n", ['mapping' => '{"columns":{"day":"a"}}'], 'mapping.columns', 'Say which columns'],
    'no mapping' => ["a,b\n1,2\n", ['mapping' => '['], 'mapping', 'JSON'],
    'a number' => ["a,b\n1,2\n", ['mapping' => '7'], 'mapping', 'JSON object'],
    'tolerance' => ["day,visitors\n2026-03-02,4\n", ['tolerance' => '1'], 'tolerance', 'less than 1'],
    'window' => ["day,visitors\n2026-03-02,4\n", ['window' => '-1'], 'window', 'Whole seconds'],
    'goal' => ["day,visitors\n2026-03-02,4\n", ['goal' => 'nope'], 'goal', 'has no goal'],
    'a goal of orders' => ["order_id\nG-1\n", ['goal' => 'loan-noted'], 'goal', 'has orders'],
    'no experiment' => ["day,visitors\n2026-03-02,4\n", ['experiment' => 'nope'], 'experiment', 'has no experiment'],
    'packed badly' => ["\x1f\x8bnot", [], 'file', 'cannot be unpacked'],
    'too large, packed' => [(string) gzencode(str_repeat('0', 10_000_001)), [], 'file', '10 MB'],
]);

it('is for those who work on the site', function () {
    ($this->bring)("day,visitors\n2026-03-02,4\n", ['experiment' => 'x'], $this->makePersonWho('look', $this->site))->assertForbidden();
    ($this->bring)("day,visitors\n2026-03-02,4\n", ['experiment' => 'x'], $this->makePerson($this->makeSite('plx_othersite00001')))->assertNotFound();
});

it('goes on where a worker was stopped, and gives up after the second time', function () {
    $log = ($this->log)();
    ($this->bring)("day,visitors\n2026-03-02,4\n", ['log' => (string) $log])->assertStatus(202);
    $reconciler = app(Reconciler::class);
    expect($reconciler->next('a:1'))->not->toBeNull()->and($reconciler->next('b:1'))->toBeNull();
    $this->travel(901)->seconds();
    expect($reconciler->next('b:1'))->not->toBeNull();
    $this->travel(901)->seconds();
    expect($reconciler->next('c:1'))->toBeNull()->and(Reconciliation::query()->sole()->state)->toBe('failed');
});

<?php

use App\Storage\Retention;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\File;

beforeEach(fn () => $this->site = $this->makeSite());

it('forgets samples of rejected events, and keeps how many there were by hour and reason', function () {
    $row = fn (string $received, string $reason, ?int $site): array => ['site_id' => $site, 'received' => $received, 'reason' => $reason, 'message' => 'x', 'sample' => '{}'];
    foreach (array_chunk([...array_map(fn (int $i): array => $row('2026-01-01 10:'.str_pad((string) ($i % 60), 2, '0', STR_PAD_LEFT).':00', 'event.url', $this->site->id), range(1, 2500)), $row('2026-01-01 11:00:00', 'event.time', $this->site->id), $row('2026-01-01 11:00:00', 'unknown-site', null), $row('2026-03-01 11:00:00', 'event.url', $this->site->id)], 500) as $rows) {
        DB::table('rejected_events')->insert($rows);
    }
    DB::table('unkept_events')->insert(['site_id' => $this->site->id, 'hour' => '2026-01-01 10:00:00', 'reason' => 'event.url', 'n' => 7, 'last' => '2026-01-01 10:00:01']);
    expect((new Retention())->forgetRejected(CarbonImmutable::parse('2026-02-01', 'UTC')))->toBe(2502)->and(DB::table('rejected_events')->count())->toBe(1)
        ->and(DB::table('unkept_events')->orderBy('reason')->pluck('n', 'reason')->all())->toBe(['event.time' => 1, 'event.url' => 2507])
        ->and((string) DB::table('unkept_events')->where('reason', 'event.url')->value('last'))->toStartWith('2026-01-01 10:59:00')
        ->and((new Retention())->forgetRejected(CarbonImmutable::parse('2026-02-01', 'UTC')))->toBe(0);
    // Made again from what is kept, the figures are the same.
    $rebuild = app(App\ReadModel\Rebuild::class);
    $rebuild->begin($this->site);
    while ($rebuild->work($this->site)) {
        // Until all is made.
    }
    expect((int) DB::table('volumes')->where('site_id', $this->site->id)->where('by', 'rejected')->sum('n'))->toBe(2509);
});

it('forgets inspections, but not the newest of a page', function () {
    $page = $this->site->pages()->create(['url' => 'https://shop.localhost/', 'hash' => 'h', 'source' => 'typed', 'added_at' => now(), 'faulty' => []]);
    foreach (['2025-01-01', '2025-02-01', '2025-03-01'] as $day) {
        $page->inspections()->create(['first_at' => $day, 'last_at' => $day, 'verdict' => 'sound', 'findings' => []]);
    }
    expect((new Retention())->forgetInspections(CarbonImmutable::parse('2026-01-01', 'UTC')))->toBe(2)->and($page->inspections()->count())->toBe(1)
        ->and(str_starts_with((string) $page->inspections()->value('last_at'), '2025-03-01'))->toBeTrue();
});

it('gives out and erases everything that is kept of one person, and of nobody else', function () {
    $this->sent = 0;
    $send = function (string $visitor, ?string $user, string $name, array $props = []): void {
        (new App\Collector\Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => [
            ['id' => 'p'.++$this->sent, 'visitor' => $visitor, 'user' => $user, 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => $name, 'url' => 'http://shop.test/join', 'props' => (object) $props],
            ['id' => "bad {$this->sent}", 'visitor' => $visitor, 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => 'x', 'url' => 'http://shop.test/'],
        ]]), 'test', CarbonImmutable::now('UTC'));
    };
    $this->site->goals()->create(['key' => 'g', 'name' => 'G', 'definition' => ['key' => 'g', 'name' => 'G', 'kind' => 'order', 'count' => 'every']]);
    foreach ([['v1', null], ['v1', 'ann'], ['v2', 'ann'], ['v10', 'bob'], ['v1_', null]] as [$visitor, $user]) {
        $send($visitor, $user, 'order', ['order_id' => "{$visitor}{$user}"]);
    }
    $worker = app(App\ReadModel\Worker::class);
    for ($i = 0; $i < 20; $i++) {
        $worker->turn();
    }
    $send('v2', null, 'page_view');
    expect(DB::table('goal_hits')->count())->toBe(5);
    $file = sys_get_temp_dir().'/'.uniqid('person').'.ndjson';
    $this->artisan('pellix:person', ['site' => $this->site->key, '--user' => 'ann', '--export' => $file, '--erase' => true])->assertSuccessful();
    $records = array_map(fn (string $line): array => json_decode($line, true), file($file));
    expect(array_count_values(array_column($records, 'table')))->toMatchArray(['events' => 4, 'goal_hits' => 3, 'visitors' => 2, 'rejected_events' => 4])->and(fileperms($file) & 0o777)->toBe(0o600);
    unlink($file);
    foreach (['events', 'visitors', 'goal_hits', 'arrivals'] as $table) {
        expect(DB::table($table)->whereIn('visitor', ['v1', 'v2'])->count())->toBe(0, $table);
    }
    expect(DB::table('events')->pluck('visitor')->sort()->values()->all())->toBe(['v10', 'v1_'])->and(DB::table('rejected_events')->count())->toBe(2)->and(DB::table('event_ids')->whereIn('visitor', ['v1', 'v2'])->count())->toBe(0)
        // An id that comes again is known all the same.
        ->and(DB::table('event_ids')->where('visitor', 'erased')->count())->toBe(4);
    $this->artisan('pellix:person', ['site' => $this->site->key, '--visitor' => 'v1', '--user' => 'x', '--erase' => true])->assertExitCode(2);
    $this->artisan('pellix:person', ['site' => 'plx_0000000000000000', '--visitor' => 'v1', '--erase' => true])->assertExitCode(2);
    $this->artisan('pellix:person', ['site' => $this->site->key, '--visitor' => 'v1'])->assertExitCode(2);
});

it('begins logs anew when they are long or old, and forgets the older piece in time', function () {
    $log = storage_path('logs/laravel.log');
    File::ensureDirectoryExists(dirname($log));
    File::delete(["{$log}.1", "{$log}.begun"]);
    config(['pellix.keep_days.logs' => 30]);
    $rotate = function (string $text) use ($log): array {
        file_put_contents($log, $text);
        Artisan::call('pellix:rotate');
        clearstatcache();

        return [filesize($log), is_file("{$log}.1") ? filesize("{$log}.1") : null];
    };
    expect($rotate('a line'))->toBe([6, null])
        ->and($rotate(str_repeat('x', 10_000_001)))->toBe([0, 10_000_001]);
    touch("{$log}.begun", time() - 31 * 86400);
    expect($rotate('another'))->toBe([0, 7]);
    touch("{$log}.1", time() - 31 * 86400);
    expect($rotate('news'))->toBe([4, null]);
    config(['pellix.keep_days.logs' => 0]);
    touch("{$log}.begun", time() - 900 * 86400);
    expect($rotate('kept'))->toBe([4, null]);
});

it('erases a person from what audits keep, and nobody else', function () {
    $audit = App\Models\Audit::query()->create(['site_id' => $this->site->id, 'name' => 'A', 'state' => 'done', 'why' => 'asked', 'by' => 'P', 'engine' => 2, 'asked_at' => now(), 'settings' => ['experiment' => ['key' => 'v1'], 'audit' => ['exclusions' => [['name' => 'v1', 'kind' => 'internal', 'visitors' => ['v1', 'v10']]]]]]);
    $exclusion = App\Models\Exclusion::query()->create(['site_id' => $this->site->id, 'definition' => ['name' => 'v1', 'kind' => 'internal', 'visitors' => ['v1', 'v10']], 'reason' => 'r', 'author' => 'P', 'made_at' => now()]);
    foreach (['v1', 'v10'] as $visitor) {
        App\Models\AuditRows::query()->create(['audit_id' => $audit->id, 'mark' => $visitor, 'sought' => [], 'state' => 'done', 'found' => ['rows' => [['visitor' => $visitor]]], 'asked_at' => now()]);
    }
    $this->artisan('pellix:person', ['site' => $this->site->key, '--visitor' => 'v1', '--erase' => true])->assertSuccessful();
    expect(App\Models\AuditRows::query()->pluck('mark')->all())->toBe(['v10'])
        ->and($exclusion->refresh()->definition)->toBe(['name' => 'v1', 'kind' => 'internal', 'visitors' => ['erased', 'v10']])
        ->and($audit->refresh()->settings['audit']['exclusions'][0]['visitors'])->toBe(['erased', 'v10'])->and($audit->settings['experiment']['key'])->toBe('v1');
});

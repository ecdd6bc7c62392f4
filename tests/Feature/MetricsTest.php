<?php

use App\Metrics\Families;
use App\Metrics\Measurements;
use App\Metrics\Measurer;
use Carbon\CarbonImmutable;
use Symfony\Component\Process\Process;
use Symfony\Component\Yaml\Yaml;

/** @return array<string, float> what the reference parser of the format (python3-prometheus-client of Debian) reads: name and labels => value */
function parsedMetrics(string $text): array
{
    $python = new Process(['/usr/bin/python3', '-c', 'import json, sys
from prometheus_client.parser import text_string_to_metric_families as parse
print(json.dumps({s.name + json.dumps(s.labels, sort_keys=True): s.value for f in parse(sys.stdin.read()) for s in f.samples}))'], input: $text);

    return json_decode($python->mustRun()->getOutput(), true);
}

beforeEach(function () {
    $this->buckets = sys_get_temp_dir().'/pellix-metrics-'.bin2hex(random_bytes(4));
    mkdir($this->buckets);
    config(['pellix.buckets' => $this->buckets, 'pellix.metrics_token' => 'sixteen-characters', 'pellix.node_name' => 'one']);
    $this->measure = fn () => app(Measurer::class)->measure(CarbonImmutable::now('UTC'));
    $this->read = fn (): array => parsedMetrics((string) $this->signedOut()->get('/metrics', ['Authorization' => 'Bearer sixteen-characters'])->assertOk()->getContent());
});

afterEach(fn () => (new Illuminate\Filesystem\Filesystem())->deleteDirectory($this->buckets));

it('tells how beacons were answered and how fast, each once, as the format’s own parser reads it', function () {
    file_put_contents("{$this->buckets}/beacons.log", "200 0.004\n200 0.030\n429 -\n503 1.500\nnonsense\n413 0.0");
    ($this->measure)();
    ($this->measure)();
    $read = ($this->read)();
    expect($read['pellix_beacons_total{"answer": "200"}'])->toEqual(2)->and($read['pellix_beacons_total{"answer": "429"}'])->toEqual(1)->and($read)->not->toHaveKey('pellix_beacons_total{"answer": "413"}')
        ->and($read['pellix_beacon_seconds_bucket{"le": "0.005"}'])->toEqual(1)->and($read['pellix_beacon_seconds_bucket{"le": "0.05"}'])->toEqual(2)->and($read['pellix_beacon_seconds_bucket{"le": "+Inf"}'])->toEqual(3)
        ->and($read['pellix_beacon_seconds_count{}'])->toEqual(3)->and(round($read['pellix_beacon_seconds_sum{}'], 6))->toBe(1.534)->and(abs($read['pellix_measured_timestamp_seconds{}'] - time()))->toBeLessThan(30);
    // The line that was not whole yet, and a log that was begun anew.
    file_put_contents("{$this->buckets}/beacons.log", "01\n", FILE_APPEND);
    ($this->measure)();
    file_put_contents("{$this->buckets}/beacons.log", "200 0.001\n");
    ($this->measure)();
    $read = ($this->read)();
    expect($read['pellix_beacons_total{"answer": "413"}'])->toEqual(1)->and($read['pellix_beacons_total{"answer": "200"}'])->toEqual(3);
});

it('is read by whoever has the token, and by nobody where there is none', function () {
    $this->signedOut()->get('/metrics')->assertUnauthorized();
    $this->get('/metrics', ['Authorization' => 'Bearer another-of-sixteen'])->assertUnauthorized();
    config(['pellix.metrics_token' => 'short']);
    $this->get('/metrics', ['Authorization' => 'Bearer short'])->assertNotFound();
});

it('tells its own machine’s and what is of all, and not another machine’s', function () {
    (new Measurements('two'))->set('pellix_disk_free_ratio', [], 0.5);
    (new Measurements('two'))->set('pellix_jobs_waiting', [], 7, true);
    expect(($this->read)())->toBe(['pellix_jobs_waiting{}' => 7.0]);
    (new Measurements('one'))->set('pellix_process_up', ['process' => "a\"b\\c\nd"], 0);
    $names = array_map(static fn (string $key): string => (string) json_decode((string) strstr($key, '{'), true)['process'], preg_grep('/process_up/', array_keys(($this->read)())));
    expect(array_values($names))->toBe(["a\"b\\c\nd"]);
});

it('counts work, errors and what is behind', function () {
    DB::table('jobs')->insert(['queue' => 'default', 'payload' => '{}', 'attempts' => 0, 'available_at' => 0, 'created_at' => 0]);
    config(['queue.default' => 'database']);
    ($this->measure)();
    $before = ($this->read)();
    Illuminate\Support\Facades\Log::build(['driver' => 'single', 'path' => storage_path('logs/laravel.log')])->error('Something of the tests');
    Illuminate\Support\Facades\Log::build(['driver' => 'single', 'path' => storage_path('logs/laravel.log')])->info('Nothing of note');
    ($this->measure)();
    $read = ($this->read)();
    expect($read['pellix_jobs_waiting{}'])->toEqual(1)->and($read['pellix_errors_total{"where": "application"}'] - $before['pellix_errors_total{"where": "application"}'])->toEqual(1.0)->and($read['pellix_rehearsals_last_day{"state": "done"}'])->toEqual(0)->and($read)->toHaveKey('pellix_figures_age_seconds{}');
});

it('has alerts about measurements that there are', function () {
    $rules = Yaml::parseFile(dirname(__DIR__, 2).'/deploy/alerts.yml')['groups'][0]['rules'];
    preg_match_all('/pellix_[a-z_]+/', implode(' ', array_column($rules, 'expr')), $names);
    $all = array_fill_keys(array_map(static fn (string $name): string => (string) preg_replace('/\Apellix_beacon_seconds\z/', 'pellix_beacon_seconds_count', $name), array_unique($names[0])), [['labels' => [], 'value' => 1.0]]);
    preg_match_all('/^(pellix_\w+) /m', Families::text($all), $told);
    expect(count($rules))->toBeGreaterThan(6)->and($told[1])->toEqualCanonicalizing(array_keys($all));
});

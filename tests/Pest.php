<?php

declare(strict_types=1);

use App\Collector\Collector;
use Carbon\CarbonImmutable;
use Eris\TestTrait;
use Illuminate\Foundation\Testing\RefreshDatabase;
use Illuminate\Support\Facades\DB;
use Symfony\Component\Process\Process;
use Tests\Support\BrowserTestCase;
use Tests\Support\FeatureTestCase;
use Tests\Support\ServedTestCase;

pest()->extend(FeatureTestCase::class)->use(RefreshDatabase::class)->in('Feature');
pest()->extend(ServedTestCase::class)->in('Served');
pest()->extend(BrowserTestCase::class)->in('Browser');
pest()->use(TestTrait::class)->in('Core');

/** The decoded content of a file in tests/vectors. */
function vectors(string $name): array
{
    return json_decode((string) file_get_contents(__DIR__."/vectors/{$name}.json"), true, 64, JSON_THROW_ON_ERROR);
}

/** What a reader complains about, as "field: message". */
function complaint(callable $reader): string
{
    try {
        $reader();
    } catch (Pellix\Core\InvalidInput $e) {
        return "{$e->field}: {$e->getMessage()}";
    }

    return 'no complaint';
}

/** Passes where two numbers agree to a relative 1e-9. */
expect()->extend('toAgreeWith', function (float $expected, float $relative = 1e-9) {
    /** @var Pest\Expectation<float> $this */
    expect(abs($this->value - $expected))->toBeLessThanOrEqual($relative * abs($expected), "{$this->value} is not {$expected}");

    return $this;
});

/** @param array<string, mixed> $change */
function experimentRequest(array $change = []): array
{
    return array_replace_recursive([
        'name' => 'Shorter words', 'hypothesis' => 'Fewer words, more clicks', 'share' => 1,
        'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join'],
        'variants' => [
            ['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
            ['key' => 'short', 'name' => 'Short', 'weight' => 50, 'control' => false, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'Hi']]],
        ],
        'goals' => [['name' => 'Joined', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done']]],
    ], $change);
}

/** Has a visitor's browser send events through the collector, at a time of day. */
function visit(object $test, string $visitor, string $path, array $events = ['page_view'], ?string $variant = null, string $time = 'now'): void
{
    $moment = CarbonImmutable::parse($time, 'UTC');
    $answer = (new Collector(DB::connection()->getPdo()))->take(json_encode([
        'pellix' => 1, 'site' => $test->site->key,
        'events' => array_map(fn (string $name): array => [
            'id' => 'e'.++$test->sent, 'visitor' => $visitor, 'time' => $moment->toIso8601ZuluString('millisecond'), 'name' => $name, 'url' => "http://shop.test{$path}",
            'props' => $name === 'page_view' ? [] : ['experiment' => 'shorter-words', 'variant' => $variant],
        ], $events),
    ]), 'test', $moment);
    expect($answer->status)->toBe(200)->and($answer->json['rejected'])->toBe([]);
}

/** A copy of its own, which a test may kill. */
function copyThatMayDie(string $data, int $port, int $demo): Process
{
    $process = new Process([dirname(__DIR__).'/bin/pellix', 'start'], env: ['PELLIX_DATA' => $data, 'PELLIX_PORT' => (string) $port, 'PELLIX_DEMO_PORT' => (string) $demo], timeout: null);
    $process->start();
    if (! $process->waitUntil(static fn (string $type, string $text): bool => str_contains($text, 'Ctrl-C stops everything.'))) {
        throw new RuntimeException("The copy did not start:\n{$process->getOutput()}\n{$process->getErrorOutput()}");
    }

    return $process;
}

/** @return list<float> what R prints, one number a line */
function r(string $script): array
{
    $process = new Symfony\Component\Process\Process(['Rscript', '--vanilla', '-']);
    $process->setInput("out <- function(x) cat(sprintf('%.17g', x), sep = '\\n')\n{$script}");
    $process->mustRun();

    return array_map(floatval(...), preg_split('/\s+/', trim(str_replace(['-Inf'], ['-INF'], $process->getOutput()))));
}

function published(App\Models\Site $site): ?array
{
    $file = config('pellix.published')."/{$site->key}.js";

    return is_file($file) && preg_match('/\Awindow\.pellixSite=(.*);\n/', file_get_contents($file), $m) === 1 ? json_decode($m[1], true)['experiments'] : null;
}

/** @param array<string, mixed> $change */
function experimentFile(array $change = []): array
{
    return array_replace_recursive([
        'pellix' => 1, 'key' => 'loan-steps', 'name' => 'Steps', 'hypothesis' => 'Fewer steps, more loans', 'kind' => 'in_page', 'unit' => 'visitor',
        'salt' => 'salt-1', 'share' => 0.5,
        'variants' => [
            ['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []],
            ['key' => 'short', 'name' => 'Short', 'weight' => 50, 'control' => false, 'changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'Hello']]],
        ],
        'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'],
        'audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'mobile'],
        'goals' => [['key' => 'done', 'name' => 'Done', 'kind' => 'page', 'role' => 'primary', 'count' => 'every', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']]],
        'epochs' => [['from' => '2026-03-02T00:00:00.000Z', 'share' => 0.5, 'weights' => ['control' => 50.0, 'short' => 50.0]]],
        'start' => '2026-03-02T00:00:00.000Z', 'end' => '2026-03-30T00:00:00.000Z',
    ], $change);
}

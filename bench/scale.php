<?php

declare(strict_types=1);

/*
 * Loads a site with millions of events, and measures views, workers and the collector on it:
 * php bench/scale.php ORIGIN PASSWORD SOCKET EVENTS. Called by `bin/pellix bench scale`.
 */

use App\Experiments\ReachTrial;
use App\Models\Site;
use App\Storage\EventMonths;
use Bench\Beacons;
use Bench\LargeSite;
use Bench\Report;
use Bench\Views;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;
use Symfony\Component\Process\Process;

require dirname(__DIR__).'/vendor/autoload.php';
(require dirname(__DIR__).'/bootstrap/app.php')->make(Kernel::class)->bootstrap();

[, $origin, $password, $socket, $events] = $argv;
$part = (int) $events / 5_000_000;
$visitors = (int) (1_000_000 * $part);
$pages = (int) max(1000, 100_000 * $part);
$large = new LargeSite((int) $events, $visitors, $pages, 30, 40);
$report = new Report();
$now = CarbonImmutable::now('UTC');
$folder = getenv('PELLIX_DATA');
printf("%s events, %s visitors, 30 experiments, 40 goals\n", number_format((int) $events), number_format($visitors));

// The load, in parts that fit on the disk.
$begin = microtime(true);
(new EventMonths())->prepare($now->subDays(LargeSite::DAYS), $now);
$site = $large->declare($now);
$report->note('declared: site, goals, experiments, inventory', sprintf('%.0f s', microtime(true) - $begin));
$begin = microtime(true);
$step = 50_000;
for ($from = 0; $from < $visitors; $from += $step) {
    [$files, $streams] = [["{$folder}/events.tsv", "{$folder}/event_ids.tsv"], []];
    foreach ($files as $file) {
        $streams[] = fopen($file, 'w');
    }
    $large->write($site->id, $from, min($from + $step, $visitors), $streams[0], $streams[1], $now);
    array_map(fclose(...), $streams);
    foreach ($files as $file) {
        $table = basename($file, '.tsv');
        (new Process(['mariadb', '--no-defaults', '--local-infile=1', "--socket={$socket}", 'pellix', '-e', "set unique_checks=0; load data local infile '{$file}' into table {$table} character set utf8mb4 fields escaped by '\\\\'"], timeout: null))->mustRun();
    }
}
array_map(unlink(...), $files);
$stored = DB::table('events')->where('site_id', $site->id)->count();
$report->note('events loaded', sprintf('%s in %.0f s', number_format($stored), microtime(true) - $begin));

// The figures, from scratch.
$begin = microtime(true);
$rebuild = new Process([PHP_BINARY, dirname(__DIR__).'/artisan', 'pellix:rebuild', '--site='.LargeSite::KEY], timeout: null);
$rebuild->mustRun();
$took = microtime(true) - $begin;
$report->note('figures made from all events', sprintf('%.0f s (%s events/s)', $took, number_format($stored / $took)));

$memory = static function (): int {
    foreach (glob('/proc/[0-9]*/cmdline') ?: [] as $file) {
        if (preg_match('~\A[^\x00]*php[\d.]*\x00[^\x00]*artisan\x00pellix:gather~', (string) @file_get_contents($file)) === 1 && str_contains((string) @file_get_contents(dirname($file).'/environ'), 'PELLIX_DATA='.getenv('PELLIX_DATA'))) {
            preg_match('/VmRSS:\s+(\d+)/', (string) file_get_contents(dirname($file).'/status'), $m);

            return (int) $m[1];
        }
    }

    return 0;
};
sleep(5);
$before = $memory() ?: throw new LogicException('The worker was not found.');

// Views and workers while beacons come in.
$seconds = 90;
$traffic = new Process([PHP_BINARY, __DIR__.'/traffic.php', $origin, '200', (string) $seconds], timeout: null);
$traffic->start();
$lag = new Process([PHP_BINARY, __DIR__.'/lag.php', (string) ($seconds + 5)], timeout: null);
$lag->start();
sleep(5);
(new Views($origin, $password, LargeSite::KEY))->measure($report, [
    'Bench' => '/chains', 'experiments' => '/experiments', 'experiment' => '/experiments/scale-3/observations', 'readout' => '/experiments/scale-3/readout', 'rehearsal' => '/experiments/scale-3/rehearsals', 'its script' => '/experiments/scale-3/rehearsal-script', 'wiring' => '', 'tags' => '/wiring', 'Logbook' => '/logbook', 'Logbook of a thing' => '/logbook?thing=experiment&key=scale-3', 'published' => '/publications',
    'coverage' => '/pages', 'coverage by address, last page' => '/pages?sort=-url&page='.intdiv($pages, 100), 'coverage, words' => '/pages?q=page-777', 'coverage, words that are nowhere' => '/pages?q=page-none',
    'coverage, missing code' => '/pages?code=snippet', 'goals' => '/goals',
    'feed' => '/feed', 'feed of a page' => '/feed?page=area3', 'feed of a page that is nowhere' => '/feed?page=none', 'feed of an experiment' => '/feed?experiment=scale-3', 'feed of an event' => '/feed?event=order', 'events' => '/events', 'an event' => '/events/page_view', 'a planned event' => '/events/order',
]);
$traffic->wait();
$lag->wait();
[$taken, $failed, $ran] = explode(' ', trim($traffic->getOutput()));
$rate = (int) $taken / (float) $ran;
$report->line('beacons taken meanwhile', sprintf('%.0f/s, %d failed', $rate, $failed), 'about 200/s, none failed', $rate > 190 && (int) $failed === 0);
$report->line('figures behind what has arrived, at most', sprintf('%.1f s', (float) $lag->getOutput()), 'at most 10 s', (float) $lag->getOutput() <= 10);
$grown = $memory() - $before;
$report->line('memory that the worker grew by', sprintf('%.1f MB of %.0f MB', $grown / 1024, $memory() / 1024), 'flat (under 32 MB)', $grown < 32 * 1024);

// What is asked of a draft while it is written: in the background, where a job may take so long.
$begin = microtime(true);
$reach = app(ReachTrial::class)->of($site, ['pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/area3/'], 'audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'desktop'], 'unit' => 'visitor', 'selector' => null], CarbonImmutable::now('UTC'), static fn (): bool => true);
$took = microtime(true) - $begin;
$report->line('whom a draft would meet ('.number_format($reach['visitors']).' visitors found)', sprintf('%.0f s, %.0f MB', $took, memory_get_peak_usage() / 1e6), 'within a job (under 110 s)', $took < 110);

Beacons::compare($report, $origin, LargeSite::KEY, LargeSite::address(7));

$month = (new EventMonths())->all()[0];
$begin = microtime(true);
(new Process([PHP_BINARY, dirname(__DIR__).'/artisan', 'pellix:months', "--drop={$month}"], timeout: null))->mustRun();
$took = microtime(true) - $begin;
$report->line("the events of {$month} dropped", sprintf('%s in %.1f s', number_format($stored - DB::table('events')->where('site_id', $site->id)->count()), $took), 'in seconds (under 10)', $took < 10);
Site::query()->whereKey($site->id)->exists() || throw new LogicException('The site is gone.');

exit($report->exitCode());

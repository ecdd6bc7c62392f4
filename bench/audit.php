<?php

declare(strict_types=1);

/*
 * Measures the audit: php bench/audit.php files|stored|rates|power FOLDER SOCKET NUMBER. Called by `bin/pellix bench audit`.
 */

use App\Audits\AuditSetup;
use App\Models\Audit;
use App\Storage\EventMonths;
use Bench\AuditRates;
use Bench\LargeSite;
use Bench\Report;
use Carbon\CarbonImmutable;
use Demo\Logs\LogMaker;
use Demo\Logs\Settings;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Engine;
use Symfony\Component\Process\Process;

require dirname(__DIR__).'/vendor/autoload.php';

[, $what, $folder, $socket, $number] = $argv;
$report = new Report();
const MEMORY = 256;
const PHP = [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-d', 'opcache.jit=tracing', '-d', 'opcache.jit_buffer_size=64M', '-d', 'memory_limit='.MEMORY.'M'];

/** @return array{float, string} seconds, and what it said */
function measured(array $command): array
{
    $process = new Process($command, timeout: null);
    $begin = microtime(true);
    $process->run();
    if ($process->getExitCode() > 1) {
        throw new RuntimeException($process->getErrorOutput().$process->getOutput());
    }

    return [microtime(true) - $begin, $process->getOutput()];
}

if ($what === 'files') {
    // About five events each of a million visitors, at 5 million: what scrolls and clicks is left out of the simulator's.
    $seconds = [];
    foreach ([0.2, 0.4, 0.8, 1.0] as $part) {
        $wanted = (int) ($number * $part);
        $settings = new Settings((int) ($wanted / 5.2), 28, 20260302, [50, 50], [[50, 50]], []);
        $log = "{$folder}/audit.ndjson";
        $stream = fopen($log, 'w');
        $events = 0;
        foreach ((new LogMaker($settings))->events() as $event) {
            if ($event['name'] !== 'scroll' && $event['name'] !== 'click') {
                fwrite($stream, LogMaker::line($event)."\n");
                $events++;
            }
        }
        fclose($stream);
        file_put_contents("{$folder}/audit.json", json_encode($settings->experiment()));
        [$bare] = measured([...PHP, '-r', '$f = fopen($argv[1], "r"); while (($line = fgets($f)) !== false) { json_decode($line, true); }', '--', $log]);
        [$ours, $said] = measured([...PHP, dirname(__DIR__).'/bin/files.php', 'audit', $log, "--experiment={$folder}/audit.json", '--json']);
        $counts = json_decode($said, true)['counts'];
        $seconds[] = [$events, $ours];
        [$read] = measured([...PHP, dirname(__DIR__).'/bin/files.php', 'readout', $log, "--experiment={$folder}/audit.json", '--json']);
        $report->line(sprintf('audit of a file, %s events, %s visitors', number_format($events), number_format($counts['visitors'])), sprintf('%.2f x a bare loop (%.0f s)', $ours / $bare, $ours), 'at most 4 x, '.MEMORY.' MB', $ours <= 4 * $bare);
        $report->line(sprintf('readout of the same file, its audit with it, %s events', number_format($events)), sprintf('%.2f x a bare loop (%.0f s)', $read / $bare, $read), 'at most 4 x, '.MEMORY.' MB', $read <= 4 * $bare);
    }
    unlink($log);
    $growth = ($seconds[2][1] / $seconds[2][0]) / ($seconds[0][1] / $seconds[0][0]);
    $report->line('time for each event, the third against the first', sprintf('%.2f x', $growth), 'linear: under 1.25 x', $growth < 1.25);
}

if ($what === 'stored') {
    (require dirname(__DIR__).'/bootstrap/app.php')->make(Kernel::class)->bootstrap();
    $now = CarbonImmutable::now('UTC');
    (new EventMonths())->prepare($now->subDays(LargeSite::DAYS), $now);
    $visitors = (int) ($number / 5);
    $large = new LargeSite((int) $number, $visitors, 20_000, 3, 8);
    $site = $large->declare($now);
    for ($from = 0; $from < $visitors; $from += 50_000) {
        $file = "{$folder}/events.tsv";
        $stream = fopen($file, 'w');
        $ledger = fopen('php://temp', 'w');
        $large->write($site->id, $from, min($from + 50_000, $visitors), $stream, $ledger, $now);
        fclose($stream);
        (new Process(['mariadb', '--no-defaults', '--local-infile=1', "--socket={$socket}", 'pellix', '-e', "set unique_checks=0; load data local infile '{$file}' into table events character set utf8mb4 fields escaped by '\\\\'"], timeout: null))->mustRun();
        unlink($file);
    }
    $from = $site->experiments()->orderBy('id')->first()->started_at->subDays(14)->format('Y-m-d H:i:s.v');
    $stored = DB::selectOne('select count(*) n from events where site_id = ? and time >= ?', [$site->id, $from])->n;
    // What an audit has to know of each visitor at least: when it did what, where; and less than that, in the order in which the rows lie.
    $selects = [
        'by visitor, name and page' => 'select count(*) n from (select visitor, name, page, count(*), min(time), max(received) from events where site_id = ? and time >= ? group by visitor, name, page) grouped',
        'by visitor' => 'select count(*) n from (select visitor, count(*), min(time), max(received), max(props), max(url), max(agent) from events force index (primary) where site_id = ? and time >= ? group by visitor) grouped',
    ];
    $raw = [];
    foreach ($selects as $words => $select) {
        $begin = microtime(true);
        DB::selectOne($select, [$site->id, $from]);
        $raw[$words] = microtime(true) - $begin;
    }
    DB::disconnect();
    [$ours, $said] = measured([...PHP, dirname(__DIR__).'/artisan', 'pellix:audit', $site->experiments()->orderBy('id')->first()->key, '--site='.LargeSite::KEY, '--json']);
    $counts = json_decode($said, true)['counts'];
    $isWhole = $counts['events'] === (int) $stored;
    $report->line(sprintf('audit of stored events, %s, %s visitors', number_format($counts['events']), number_format($counts['visitors'])), sprintf('%.2f x a SELECT (%.0f s)', $ours / $raw['by visitor, name and page'], $ours), 'at most 5 x, '.MEMORY.' MB', $ours <= 5 * $raw['by visitor, name and page'] && $isWhole);
    $report->note('  against a SELECT that groups by visitor alone', sprintf('%.2f x (%.0f s)', $ours / $raw['by visitor'], $raw['by visitor']));
    // The watch: yesterday's audit reads everything, today's what has arrived since.
    $watched = static function (CarbonImmutable $until) use ($site): array {
        $experiment = $site->experiments()->orderBy('id')->firstOrFail();
        $audit = Audit::query()->create(['site_id' => $site->id, 'experiment_id' => $experiment->id, 'name' => $experiment->name, 'state' => 'waiting', 'why' => 'daily', 'by' => 'the daily watch', 'settings' => AuditSetup::ofExperiment($experiment, $until), 'engine' => Engine::VERSION, 'asked_at' => $until]);
        DB::disconnect();
        [$seconds] = measured([...PHP, dirname(__DIR__).'/artisan', 'pellix:auditor', '--once']);

        return [$seconds, $audit->refresh()];
    };
    [$yesterday] = $watched($now->subDay());
    [$today, $audit] = $watched($now);
    $report->line(sprintf('the daily audit, %s events of visitors who came since, of %s', number_format((int) $audit->read_events), number_format($audit->total)), sprintf('%.2f x all of it (%.1f s)', $today / $yesterday, $today), 'at most 0.5 x, '.MEMORY.' MB', $today <= 0.5 * $yesterday && $audit->state === 'done' && $audit->went_on_from !== null);
}

if ($what === 'rates') {
    $rates = (new AuditRates($folder))->sound((int) $number, static fn (int $logs) => $logs % 10 === 0 && fwrite(STDERR, "  {$logs} logs\n"));
    $report->line("sound logs with a blocker, of {$rates['logs']}", sprintf('%d (%.1f %%)', $rates['blockers'], 100 * $rates['blockers'] / $rates['logs']), 'under 1 %', $rates['blockers'] < 0.01 * $rates['logs']);
    $report->line("sound logs with a warning or blocker, of {$rates['logs']}", sprintf('%d (%.1f %%)', $rates['warnings'], 100 * $rates['warnings'] / $rates['logs']), 'under 5 %', $rates['warnings'] < 0.05 * $rates['logs']);
    ksort($rates['codes']);
    foreach ($rates['codes'] as $code => $of) {
        $report->note("  {$code}", implode(', ', array_map(static fn (string $severity, int $logs): string => "{$severity} {$logs}", array_keys(array_filter($of)), array_filter($of))));
    }
}

if ($what === 'power') {
    $rates = new AuditRates($folder);
    foreach (AuditRates::codes() as $code) {
        ['fault' => $fault, 'found' => $found, 'strength' => $least] = $rates->power($code);
        $report->note("  {$code}", ($least === null ? 'not found in nine of ten' : "found in nine of ten at strength {$least}")." ({$fault}; ".implode(', ', array_map(static fn (string|float|int $strength, string $logs): string => "{$strength}: {$logs}", array_keys($found), $found)).')');
    }
}

exit($report->exitCode());

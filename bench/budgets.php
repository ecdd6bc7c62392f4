<?php

declare(strict_types=1);

/* Measures against the budgets: php bench/budgets.php ORIGIN DEMO-ORIGIN PASSWORD. Called by `bin/pellix bench`. */

use Bench\Beacons;
use Bench\Report;
use Bench\Views;
use Demo\Library;
use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Assignment\Variant;
use Pellix\Core\Assignment\Variants;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Snippet;
use Support\Chrome;

require dirname(__DIR__).'/vendor/autoload.php';

[, $origin, $demo, $password] = $argv;

$report = new Report();

/** The best of several runs, in seconds: the one that was disturbed least. */
function best(callable $work, int $runs = 7): float
{
    $times = [];
    for ($i = 0; $i < $runs; $i++) {
        $begin = hrtime(true);
        $work();
        $times[] = (hrtime(true) - $begin) / 1e9;
    }

    return min($times);
}

$units = array_map(static fn (int $i): string => "visitor-{$i}-".md5((string) $i), range(1, 50_000));
$assigner = new Assigner('bench', 0.9, Variants::of([Variant::of('control', 40), Variant::of('b', 40), Variant::of('c', 20)]));
$bare = best(static function () use ($units): void {
    foreach ($units as $unit) {
        hash('murmur3a', "bench:variant:{$unit}", true);
    }
});
$ours = best(static function () use ($units, $assigner): void {
    foreach ($units as $unit) {
        $assigner->variantOf($unit);
    }
});
$report->line('assignment, against the bare hash', sprintf('%.2f x', $ours / $bare), 'at most 4 x', $ours <= 4 * $bare);

$bytes = strlen((string) gzencode((string) file_get_contents(dirname(__DIR__).'/runtime/dist/pellix.js'), 9));
$report->line('in-page runtime, gzip', "{$bytes} bytes", 'at most 12288', $bytes <= 12288);

foreach (['script' => 'with a change that is a script', 'redirect' => 'with a redirect test'] as $part => $when) {
    $report->line("runtime, added on sites {$when}", strlen((string) gzencode((string) file_get_contents(dirname(__DIR__)."/runtime/dist/{$part}.js"), 9)).' bytes', 'said', true);
}

$manifest = json_decode((string) file_get_contents(dirname(__DIR__).'/public/build/manifest.json'), true);
$needed = ['resources/js/main.tsx' => true, 'resources/js/bench/Bench.tsx' => true];
for ($before = 0; $before !== count($needed);) {
    $before = count($needed);
    $needed += array_fill_keys(array_merge(...array_map(static fn (string $file): array => $manifest[$file]['imports'] ?? [], array_keys($needed))), true);
}
$bytes = array_sum(array_map(static fn (string $file): int => strlen((string) gzencode((string) file_get_contents(dirname(__DIR__).'/public/build/'.$manifest[$file]['file']), 9)), array_keys($needed)));
$report->line('scripts of the first view (Bench), gzip', sprintf('%.0f KB', $bytes / 1024), 'under 200 KB', $bytes < 200 * 1024);

$bytes = strlen(Guard::text());
$report->line('flicker guard, inline', "{$bytes} bytes", 'at most 700', $bytes <= 700);

// Pages of 100 KB, two hundred that differ, each twice: an inspection against reading the page alone. Both take time in
// proportion to the pages, so that ten thousand give the same ratio.
$snippet = Snippet::loader(Library::SITE_KEY, $origin);
$pages = array_map(static function (int $i) use ($snippet): string {
    $page = "<!DOCTYPE html><html><head><meta charset=utf-8>{$snippet}<title>Page {$i}</title></head><body>";
    for ($n = 0; strlen($page) < 100_000; $n++) {
        $page .= "<section class=\"shelf part-{$i}\"><h2>Part {$n}</h2><p>Some words &amp; more of them, <a href=\"/part/{$i}/{$n}\">a link</a>.</p><!-- note --><img src=\"/i/{$n}.png\" alt=\"\"></section>\n";
    }

    return $page;
}, range(1, 200));
$expected = Expectation::read(Library::SITE_KEY, ['guard' => null, 'tags' => [['key' => 'a', 'contains' => 'window.shelf'], ['key' => 'b', 'contains' => 'counter.js', 'after' => 'a']]]);
$read = 0;
$begin = hrtime(true);
foreach (range(1, 2) as $round) {
    foreach ($pages as $page) {
        foreach (PageReader::nodes($page) as $node) {
            $read++;
        }
    }
}
$alone = (hrtime(true) - $begin) / 1e9;
$before = memory_get_peak_usage();
$begin = hrtime(true);
foreach (range(1, 2) as $round) {
    foreach ($pages as $page) {
        Inspector::inspect($page, $expected);
    }
}
$inspected = (hrtime(true) - $begin) / 1e9;
$grown = memory_get_peak_usage() - $before;
$report->line('400 inspections of 100 KB, against the parser', sprintf('%.2f x', $inspected / $alone), 'at most 4 x', $inspected <= 4 * $alone);
$report->line('memory that the inspections added', sprintf('%.1f MB', $grown / 1e6), 'flat (under 8 MB)', $grown < 8e6);

Beacons::compare($report, $origin, Library::SITE_KEY, "{$demo}/catalogue");

// What twenty experiments of ten changes cost a page, in Chromium: the time that the runtime's file takes to run.
$kinds = [
    ['kind' => 'text', 'value' => 'New words'], ['kind' => 'style', 'property' => 'color', 'value' => 'red'], ['kind' => 'html', 'value' => 'New <b>words</b>'], ['kind' => 'attribute', 'attribute' => 'title', 'value' => 't'],
    ['kind' => 'class', 'add' => ['a'], 'remove' => ['b']], ['kind' => 'hide'], ['kind' => 'remove'], ['kind' => 'insert', 'place' => 'last', 'value' => '<i>new</i>'], ['kind' => 'move', 'place' => 'last', 'to' => 'body'], ['kind' => 'text', 'value' => 'Words'],
];
$changes = static fn (int $experiment): array => array_map(static fn (array $change, int $i): array => [...$change, 'selector' => ".part-{$experiment}-{$i}"], $kinds, range(1, 10));
$configuration = ['number' => 1, 'site' => Library::SITE_KEY, 'collector' => "{$origin}/c", 'hosts' => [Library::HOST], 'domain' => null, 'cookieSeconds' => 3600, 'sessionSeconds' => 1800, 'dataLayer' => null, 'dataEvents' => [], 'ask' => false, 'gpc' => false, 'wiring' => 0, 'tags' => [],
    'experiments' => array_map(static fn (int $i): array => ['key' => "bench-{$i}", 'salt' => "s{$i}", 'share' => 1, 'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/'], 'variants' => [['key' => 'b', 'end' => 1, 'changes' => $changes($i)]]], range(1, 20))];
$chrome = new Chrome();
try {
    $browser = $chrome->open();
    $times = [];
    for ($i = 0; $i < 25; $i++) {
        $browser->get("{$demo}/repairs/missing");
        $times[] = $browser->executeScript('for (let e = 1; e <= 20; e++) for (let i = 1; i <= 10; i++) document.body.insertAdjacentHTML("beforeend", `<p class="part-${e}-${i}">x</p>`); window.pellixSite = arguments[0]; const run = new Function(arguments[1]); const begin = performance.now(); run(); return performance.now() - begin;', [$configuration, (string) file_get_contents(dirname(__DIR__).'/runtime/dist/pellix.js')]);
    }
    sort($times);
    // An ordinary visitor loads nothing of the Loupe.
    $browser->get("{$demo}/loan");
    usleep(1_500_000);
    $loaded = $browser->executeScript('return performance.getEntriesByType("resource").filter(({ name }) => name.includes("/loupe")).reduce((sum, one) => sum + one.encodedBodySize + 1, 0);');
    $report->line('Loupe, loaded by an ordinary visitor', "{$loaded} bytes", '0 bytes', $loaded === 0);
    $report->note('  by whoever holds a link, gzip', sprintf('%.0f KB', strlen((string) gzencode((string) file_get_contents(dirname(__DIR__).'/loupe/dist/loupe.js'), 9)) / 1024));
    // As elsewhere here, the best counts; the median tells how much the machine was disturbed.
    $report->line('runtime on load, 20 experiments x 10 changes', sprintf('%.1f ms (median %.1f)', $times[0], $times[12]), 'under 10 ms', $times[0] < 10);
} finally {
    $chrome->quit();
}

(new Views($origin, $password, Library::SITE_KEY))->measure($report, [
    'Bench' => '/chains', 'experiment' => '/experiments/catalogue-heading/observations', 'wiring' => '', 'coverage' => '/pages', 'tags' => '/wiring', 'goals' => '/goals', 'plan' => '/experiments/loan-steps/plan', 'rehearsal' => '/experiments/catalogue-heading/rehearsals', 'its script' => '/experiments/catalogue-heading/rehearsal-script', 'Logbook' => '/logbook', 'published' => '/publications',
    'feed' => '/feed', 'tracking plan' => '/events', 'event' => '/events/member_joined',
]);

exit($report->exitCode());

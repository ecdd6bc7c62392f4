<?php

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Causes;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\CountTable;
use Pellix\Core\Audit\Registry;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Settings as AuditSettings;
use Pellix\Core\Events\ColumnGuess;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Wiring\Findings\Severity;
use Tests\Support\AuditLogs;

/** @return list<Finding> */
function flatFindings(array $findings): array
{
    $all = [];
    foreach ($findings as $one) {
        array_push($all, $one, ...flatFindings($one->consequences));
    }

    return $all;
}

function dayOf(?int $ms): ?float
{
    return $ms === null ? null : ($ms - 1_772_409_600_000) / 86_400_000;
}

it('has one check for each code', function () {
    $codes = array_map(fn ($check): string => $check->code()->value, Registry::checks());
    expect($codes)->toBe(array_column(AuditCode::cases(), 'value'));
    $report = AuditLogs::audit('', AuditLogs::setup(AuditLogs::settings()->experiment()));
    expect(array_column($report->checks, 'code'))->toBe($codes);
});

it('says of sound logs that they are fit', function (int $visitors, array $epochs, int $seed) {
    $settings = AuditLogs::settings([], $visitors, 28, $epochs, $seed);
    $report = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup($settings->experiment(), null, $settings->end()));
    expect(array_filter(flatFindings($report->findings), fn (Finding $one): bool => $one->severity !== Severity::Note))->toBe([])
        ->and($report->verdict())->toBe('fit')->and($report->isBlocked())->toBeFalse();
})->with([[1500, [[50, 50]], 1], [5000, [[90, 10], [50, 50]], 2], [6000, [[25, 25, 25, 25]], 3]]);

// Each fault of the simulator: its code leads, with whom and when it is about, and hardly anything else is said.
it('finds a planted fault, and leads with it', function (string $fault, string $code, array $about = [], int $visitors = 5000) {
    $any = ['type' => 'object'];
    $plan = TrackingPlan::of(['scroll' => $any, 'order' => $any, 'click' => ['type' => 'object', 'properties' => array_fill_keys(['path', 'source', 'country'], ['type' => 'string']), 'additionalProperties' => false]]);
    $report = AuditLogs::faulty([$fault], $visitors, 77, str_starts_with($fault, 'off-plan') ? $plan : null);
    $leads = array_map(fn (Finding $one): string => $one->code->value, $report->findings);
    expect($leads)->toContain($code)->and(count($leads))->toBeLessThanOrEqual(3);
    $finding = $report->findings[array_search($code, $leads, true)];
    foreach ($about as $what => $wanted) {
        $is = match ($what) {
            'since', 'until' => dayOf($finding->{$what}),
            'segment' => $finding->segment === null ? null : "{$finding->segment['dimension']} {$finding->segment['value']}",
            'severity' => $finding->severity->value,
            default => $finding->{$what},
        };
        if (is_float($wanted)) {
            expect($is)->not->toBeNull()->and(abs($is - $wanted))->toBeLessThanOrEqual(str_starts_with($code, 'gap.') ? 1 / 24 + 0.001 : 1.0, "{$what} of {$code}: {$is}, wanted {$wanted}");
        } else {
            expect($is)->toBe($wanted, "{$what} of {$code}");
        }
    }
})->with([
    ['lose:variant=short:strength=0.25', 'srm.overall', ['variant' => 'short', 'segment' => null, 'since' => null, 'severity' => 'blocker']],
    ['lose:variant=short:browser=safari:strength=0.5', 'srm.segment', ['variant' => 'short', 'segment' => 'browser safari', 'severity' => 'blocker']],
    ['lose:variant=short:since=14:strength=0.5', 'srm.overall', ['variant' => 'short', 'since' => 14.0]],
    ['lose-exposures:variant=short:strength=0.3', 'exposure.missing', ['variant' => 'short', 'severity' => 'warning']],
    ['lose-after:variant=short:strength=0.4', 'srm.stage', ['variant' => 'short', 'severity' => 'warning']],
    ['wrong-variant:browser=safari:strength=0.2', 'assign.mismatch', ['segment' => 'browser safari', 'severity' => 'blocker']],
    ['switch:strength=0.05', 'assign.switched', ['severity' => 'warning']],
    ['unknown-variant:strength=0.05', 'assign.unknown-variant', ['variant' => 'shorter', 'severity' => 'warning']],
    ['outside-page:strength=0.3', 'assign.outside', ['page' => 'larkhollow.localhost/catalogue', 'severity' => 'warning']],
    ['outside-share', 'assign.outside', ['severity' => 'warning']],
    ['user-split:strength=0.6', 'assign.user-split', []],
    ['short-memory:strength=0.6', 'assign.short-memory', []],
    ['dependent:variant=short:strength=0.4', 'assign.dependent', ['variant' => 'short', 'severity' => 'warning']],
    ['late-exposure:strength=0.5', 'exposure.late', ['goal' => 'loan-noted', 'severity' => 'warning']],
    ['no-page:strength=0.3', 'exposure.without-page', ['severity' => 'warning']],
    ['silent-goal:variant=short', 'goal.silent', ['variant' => 'short', 'goal' => 'loan-noted', 'severity' => 'blocker']],
    ['drop-goal:variant=short:since=14:strength=0.9', 'goal.dropped', ['variant' => 'short', 'goal' => 'loan-noted', 'since' => 14.0]],
    ['double-goal:strength=0.4', 'goal.duplicate', ['goal' => 'loan-noted', 'page' => 'larkhollow.localhost/loan/done']],
    ['never-goal', 'goal.never', ['goal' => 'loan-noted', 'severity' => 'warning']],
    ['no-value:strength=0.2', 'goal.no-value', ['goal' => 'donated', 'severity' => 'warning']],
    ['double-order:strength=0.2', 'order.duplicate-id', ['severity' => 'warning']],
    ['huge-order:strength=3000', 'order.outlier', ['severity' => 'warning']],
    ['currency:strength=0.2', 'order.currency', ['severity' => 'warning']],
    ['comma:strength=0.3', 'order.value-shape', ['severity' => 'warning']],
    ['cents:browser=safari:strength=1', 'order.value-shape', ['segment' => 'browser safari']],
    ['silence:since=14.5:until=14.75', 'gap.silence', ['segment' => null, 'since' => 14.5, 'until' => 14.75]],
    ['silence:browser=firefox:since=14.4:until=15.8', 'gap.silence', ['segment' => 'browser firefox', 'since' => 14.4, 'until' => 15.8], 20_000],
    ['silence:since=26', 'gap.stale', ['since' => 26.0, 'until' => null, 'severity' => 'warning']],
    ['silence:page=/catalogue/fennick-cello:since=20', 'gap.page', ['page' => 'larkhollow.localhost/catalogue/fennick-cello', 'until' => null]],
    ['drop:since=14.4:until=14.9:strength=0.8', 'gap.drop', ['since' => 14.4, 'until' => 14.9], 20_000],
    ['late:strength=0.3', 'gap.late', ['severity' => 'warning']],
    ['clock:strength=0.1', 'gap.clock', ['severity' => 'warning']],
    ['copies:strength=0.2', 'event.duplicate-id', ['severity' => 'warning']],
    ['double:event=click:browser=firefox:since=12:strength=0.8', 'event.double-fired', ['event' => 'click', 'segment' => 'browser firefox', 'since' => 12.0]],
    ['off-plan:strength=0.3', 'event.off-plan', ['event' => 'click', 'severity' => 'note']],
    ['bots:variant=short:strength=0.2', 'event.bot', ['variant' => 'short', 'severity' => 'warning']],
    ['internal:strength=0.1', 'event.internal', ['severity' => 'warning']],
    ['referral:strength=0.8', 'event.self-referral', []],
    ['personal:strength=0.02', 'event.personal-data', ['severity' => 'note']],
    ['disorder:strength=0.3', 'event.clock-order', ['severity' => 'warning']],
    ['goal-changed:since=14', 'epoch.goal-changed', ['goal' => 'loan-noted', 'since' => 14.0]],
]);

it('tells what one segment lost of that segment, and what it comes to of all', function () {
    $report = AuditLogs::faulty(['lose:variant=short:browser=safari:since=14:strength=0.8'], 8000);
    $of = array_column(array_map(fn (Finding $one): array => ['code' => $one->code->value, 'is' => $one], flatFindings($report->findings)), 'is', 'code');
    expect($report->findings[0]->code)->toBe(AuditCode::SrmSegment)->and($of['srm.segment']->segment)->toBe(['dimension' => 'browser', 'value' => 'safari'])->and(dayOf($of['srm.segment']->since))->toBeGreaterThan(13.0)->toBeLessThan(15.0)
        ->and($of['srm.segment']->numbers['part'])->toBeGreaterThan(0.6)->and($of['srm.overall']->numbers['part'])->toBeLessThan(0.25)->and($of['srm.overall']->since)->toBeNull()
        ->and($of['srm.onset']->numbers['log_p'])->toBeLessThan(log(1e-6));
});

it('warns where weights were changed and all epochs added up say something else', function () {
    $settings = AuditLogs::settings(['season:since=14:strength=1'], 6000, epochs: [[90, 10], [50, 50]]);
    $report = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup($settings->experiment(), null, $settings->end()));
    $lead = $report->findings[0];
    expect([$lead->code->value, $lead->severity->value, $lead->variant, $lead->goal, dayOf($lead->since)])->toBe(['epoch.weights-changed', 'warning', 'short', 'loan-noted', 14.0])
        ->and($lead->numbers['pooled'] - $lead->numbers['stratified'])->toBeGreaterThan(0.04)
        ->and(array_map(fn (Finding $one): string => $one->code->value, $lead->consequences))->toBe(['goal.dropped']);
});

it('says what a run is too short for', function (int $visitors, int $days, array $file, ?bool $untilEnd, array $wanted) {
    $settings = AuditLogs::settings([], $visitors, $days);
    $setup = AuditLogs::setup([...$settings->experiment(), ...$file], null, $untilEnd === null ? null : $settings->end() - ($untilEnd ? 0 : 86_400_000));
    $report = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), $setup);
    expect(array_map(fn (Finding $one): array => [$one->code->value, $one->severity->value], flatFindings($report->findings)))->toEqualCanonicalizing($wanted);
})->with([
    'ended on the fourth day' => [4000, 4, [], true, [['run.too-short', 'warning'], ['run.partial-week', 'note']]],
    'shorter than planned' => [4000, 14, ['planned_days' => 28], true, [['run.too-short', 'warning']]],
    'ten days, and nobody says that it goes on' => [4000, 10, ['end' => null], null, [['run.partial-week', 'note']]],
    'ten days, and it goes on' => [4000, 10, [], false, []],
    'few visitors' => [300, 14, [], true, [['run.few-visitors', 'note']]],
]);

it('says the same whatever the order of the lines, however they are packed, and by one process or two', function () {
    $settings = AuditLogs::settings(['lose:variant=short:browser=safari:strength=0.5', 'copies:strength=0.05'], 3000);
    $setup = AuditLogs::setup($settings->experiment(), null, $settings->end());
    $lines = AuditLogs::lines($settings);
    $wanted = AuditLogs::audit(implode("\n", $lines), $setup)->toArray();
    mt_srand(5);
    shuffle($lines);
    expect(AuditLogs::audit(implode("\n", $lines), $setup)->toArray())->toEqual($wanted)
        ->and(AuditLogs::audit((string) gzencode(implode("\n", $lines)), $setup)->toArray())->toEqual($wanted)
        ->and(AuditLogs::audit(implode("\n", $lines), $setup, two: 1)->toArray())->toEqual($wanted)
        ->and($wanted['counts']['events'])->toBe($wanted['counts']['lines'] - $wanted['counts']['repeated']);
});

it('sees a page fall silent among ten thousands of others, whatever the order of the lines', function () {
    $lines = [];
    $random = new Random\Randomizer(new Random\Engine\Mt19937(5));
    for ($i = 0; $i < 5000; $i++) {
        $second = 1_772_409_600 + $random->getInt(0, 20 * 86_400);
        foreach (["/item/{$i}-1", "/item/{$i}-2", "/item/{$i}-3", '/', '/news', '/loan'] as $k => $path) {
            $isGone = $path === '/news' && $second > 1_772_409_600 + 15 * 86_400;
            $isGone || $lines[] = json_encode(['id' => "{$i}-{$k}", 'visitor' => "v{$i}", 'time' => $second + 40 * $k, 'name' => 'page_view', 'url' => "https://shop.test{$path}"]);
        }
        $lines[] = json_encode(['id' => "{$i}-x", 'visitor' => "v{$i}", 'time' => $second + 241, 'name' => 'exposure', 'url' => 'https://shop.test/loan', 'props' => ['experiment' => 'many', 'variant' => $i % 2 === 0 ? 'a' : 'b']]);
    }
    $setup = AuditLogs::setup(['pellix' => 1, 'key' => 'many', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]], 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'], 'audit' => ['assignment' => 'elsewhere']]);
    $before = memory_get_usage();
    memory_reset_peak_usage();
    $report = AuditLogs::audit(implode("\n", $lines), $setup)->toArray();
    expect(memory_get_peak_usage() - $before)->toBeLessThan(70_000_000);
    $lead = $report['findings'][0];
    expect([$lead['code'], $lead['page'], $lead['until']])->toBe(['gap.page', 'shop.test/news', null])->and(abs(strtotime($lead['since']) - 1_772_409_600 - 15 * 86_400))->toBeLessThanOrEqual(3 * 3600)
        ->and(array_diff(array_column($report['findings'], 'severity'), ['note']))->toHaveCount(1);
    expect(AuditLogs::audit(implode("\n", $random->shuffleArray($lines)), $setup)->toArray())->toEqual($report);
});

it('says of a time that it cannot read what to do, and takes numbers for times', function () {
    $line = fn (mixed $time): string => json_encode(['id' => 'a'.json_encode($time), 'visitor' => 'v', 'time' => $time, 'name' => 'page_view', 'url' => 'https://x.test/']);
    $report = AuditLogs::audit(implode("\n", array_map($line, ['02.03.2026 10:00', '1772500000', 1772500003123, null])), AuditLogs::setup(AuditLogs::settings()->experiment()))->toArray();
    expect(array_column($report['skipped'], 'line'))->toBe([1, 4])->and($report['skipped'][0]['reason'])->toContain('--propose-map')->and($report['period'])->toBe(['from' => '2026-03-03T01:06:40.000Z', 'to' => '2026-03-03T01:06:43.000Z']);
});

it('goes on after lines that cannot be read, and says which', function () {
    $settings = AuditLogs::settings([], 1500);
    $setup = AuditLogs::setup($settings->experiment(), null, $settings->end());
    $lines = AuditLogs::lines($settings);
    $sound = AuditLogs::audit(implode("\n", $lines), $setup);
    $bad = ['{"id":"x"', "{\"id\":\"\xff\"}", '{"id":"a","visitor":"b","time":"yesterday","name":"c","url":"https://x.test/"}', '{"visitor":"b"}', '[1]', str_repeat('x', 3_000_000)];
    array_splice($lines, 100, 0, $bad);
    $report = AuditLogs::audit(implode("\n", $lines), $setup);
    $skipped = $report->toArray()['skipped'];
    expect(array_column($skipped, 'line'))->toBe([101, 102, 103, 104, 105, 106])
        ->and($skipped[0]['reason'])->toContain('not JSON')->and($skipped[1]['reason'])->toContain('UTF-8')->and($skipped[2]['reason'])->toContain('Field time')
        ->and($skipped[3]['reason'])->toContain('Field id')->and($skipped[5]['reason'])->toContain('more than 2 MB')
        ->and($report->toArray()['counts']['events'])->toBe($sound->toArray()['counts']['events'])->and($report->verdict())->toBe('fit')->and($report->sentence())->toContain('6 lines');
    // More than one in ten.
    $report = AuditLogs::audit(implode("\n", [...$lines, ...array_fill(0, 2000, '{')]), $setup);
    expect($report->verdict())->toBe('doubt')->and($report->sentence())->toContain('could not be read')->and($report->toArray()['skipped'])->toHaveCount(106 - 1 + 0 + 0);
});

it('says that nobody knows what came after the end of a cut file', function () {
    $settings = AuditLogs::settings([], 1500);
    $setup = AuditLogs::setup($settings->experiment());
    $packed = (string) gzencode(implode("\n", AuditLogs::lines($settings)));
    $report = AuditLogs::audit(substr($packed, 0, intdiv(strlen($packed), 2)), $setup);
    expect($report->verdict())->toBe('doubt')->and($report->sentence())->toContain('up to a point only')->and($report->toArray()['counts']['events'])->toBeGreaterThan(1000);
    $report = AuditLogs::audit(substr($packed, 0, 5000).str_repeat('x', 5000), $setup);
    expect($report->verdict())->toBe('doubt');
});

it('does not unpack what was made to fill memory, disk or an afternoon', function (string $part, string $why) {
    $bomb = '';
    $pack = deflate_init(ZLIB_ENCODING_GZIP, ['level' => 9]);
    for ($i = 0; $i < 100; $i++) {
        $bomb .= deflate_add($pack, str_repeat($part, intdiv(1_000_000, strlen($part))), ZLIB_NO_FLUSH);
    }
    $bomb .= deflate_add($pack, '', ZLIB_FINISH);
    $before = memory_get_usage();
    memory_reset_peak_usage();
    $report = AuditLogs::audit($bomb, AuditLogs::setup(AuditLogs::settings()->experiment()), false);
    expect($report->verdict())->toBe('doubt')->and(json_encode($report->toArray()['skipped']))->toContain($why)
        ->and(memory_get_peak_usage() - $before)->toBeLessThan(60_000_000);
})->with([["{}\n", 'the rest is not read'], ["\0", 'times as large']]);

it('reads CSV as it reads NDJSON, and leaves out the rows that are wrong', function () {
    $settings = AuditLogs::settings([], 1200);
    $setup = AuditLogs::setup($settings->experiment());
    $lines = AuditLogs::lines($settings);
    $file = fopen('php://memory', 'w+');
    $columns = ['id', 'visitor', 'user', 'time', 'received', 'name', 'url', 'referrer', 'agent'];
    $props = ['experiment', 'variant', 'source', 'country', 'value', 'currency', 'order_id', 'percent', 'path'];
    fputcsv($file, [...$columns, ...array_map(fn (string $one): string => in_array($one, ['experiment', 'variant'], true) ? $one : "props.{$one}", $props)], ';', '"', '');
    foreach ($lines as $line) {
        $row = json_decode($line, true);
        fputcsv($file, array_map(strval(...), [...array_map(fn (string $one) => $row[$one] ?? '', $columns), ...array_map(fn (string $one) => $row['props'][$one] ?? '', $props)]), ';', '"', '');
    }
    $csv = (string) stream_get_contents($file, null, 0);
    $wanted = AuditLogs::audit(implode("\n", $lines), $setup)->toArray();
    $rows = explode("\n", $csv);
    // The rows have fewer properties than the lines, so they are not the same events to the last letter.
    $read = AuditLogs::audit($csv, $setup)->toArray();
    expect(['fingerprint' => ''] + $read)->toEqual(['fingerprint' => ''] + $wanted)->and($read['fingerprint'])->not->toBe($wanted['fingerprint'])
        ->and(AuditLogs::audit("\xff\xfe".mb_convert_encoding($csv, 'UTF-16LE', 'UTF-8'), $setup)->toArray())->toEqual($read);
    // A quote that is never closed takes its own row with it, and no other.
    array_splice($rows, 10, 0, ['a;"b', 'a;b']);
    $report = AuditLogs::audit(implode("\n", $rows), $setup)->toArray();
    expect($report['skipped'])->toHaveCount(2)->and($report['skipped'][0])->toBe(['line' => 11, 'reason' => 'A quote opens in this row and is never closed.'])->and($report['skipped'][1]['reason'])->toContain('2 cells')
        ->and($report['counts']['events'])->toBe($wanted['counts']['events']);
});

it('takes a log of other columns by a mapping, and proposes one', function () {
    $rows = [];
    for ($i = 0; $i < 60; $i++) {
        $rows[] = ['Event ID' => "h{$i}", 'client_id' => 'v'.intdiv($i, 3), 'Timestamp' => (string) (1_772_500_000 + 60 * $i), 'event_name' => $i % 3 === 0 ? 'pageview' : 'click', 'page_location' => 'https://shop.test/loan', 'Revenue' => '1.234,50'];
    }
    ['mapping' => $mapping, 'sure' => $sure] = ColumnGuess::of($rows, ';', null);
    expect($mapping['columns'])->toMatchArray(['id' => 'Event ID', 'visitor' => 'client_id', 'time' => 'Timestamp', 'name' => 'event_name', 'url' => 'page_location', 'props.value' => 'Revenue'])
        ->and($mapping['time']['format'])->toBe('seconds')->and($mapping['decimal'])->toBe(',')->and($mapping['names'])->toBe(['pageview' => 'page_view'])->and($sure['time'])->toBeTrue();
    $columns = LogColumns::read($mapping);
    expect($columns->event($rows[0]))->toEqual(['id' => 'h0', 'visitor' => 'v0', 'time' => '2026-03-03T01:06:40.000Z', 'name' => 'page_view', 'url' => 'https://shop.test/loan', 'props' => ['value' => 1234.5]]);
    // Local times belong to a place.
    $local = LogColumns::read(['columns' => ['visitor' => 'v', 'time' => 't', 'name' => 'n', 'url' => 'u'], 'time' => ['format' => 'd.m.Y H:i:s', 'zone' => 'Europe/Berlin'], 'host' => 'https://shop.test']);
    expect($local->event(['v' => 'a', 't' => '03.07.2026 14:00:00', 'n' => 'page_view', 'u' => '/loan']))->toMatchArray(['time' => '2026-07-03T12:00:00.000Z', 'url' => 'https://shop.test/loan'])
        ->and($local->event(['v' => 'a', 't' => '31.02.2026 14:00:00', 'n' => 'x', 'u' => '/'])['time'])->toBe('31.02.2026 14:00:00')
        ->and(ColumnGuess::of([['t' => '2026-03-02 10:00:00', 'time' => '2026-03-02 10:00:00']], null, null)['sure']['time'])->toBeFalse();
    // By what it holds where no name tells, and by its name where it is empty yet.
    ['mapping' => $mapping, 'sure' => $sure] = ColumnGuess::of([['id' => 'a', 'client' => 'v', 'When' => '2026-03-02T10:00:00Z', 'event' => 'x', 'Where' => 'https://shop.test/', 'revenue' => '', 'props.percent' => '']], ',', null);
    expect($mapping['columns'])->toMatchArray(['time' => 'When', 'url' => 'Where', 'props.value' => 'revenue', 'props.percent' => 'props.percent'])->and([$sure['time'], $sure['url'], $sure['props.value']])->toBe([false, false, false]);
});

it('refuses a mapping or settings that nothing can be read with', function (array $json, string $wanted) {
    expect(complaint(fn () => isset($json['columns']) ? LogColumns::read($json) : AuditSettings::read($json)))->toContain($wanted);
})->with([
    [['columns' => ['visitor' => 'v']], 'columns.time: Say which column'],
    [['columns' => ['visitor' => 'v', 'time' => 't', 'name' => 'n', 'url' => 'u', 'colour' => 'c']], 'columns.colour: There is no such field'],
    [['columns' => ['visitor' => 'v', 'time' => 't', 'name' => 'n', 'url' => 'u'], 'time' => ['zone' => 'Mars']], 'time.zone: "Mars" is no time zone'],
    [['columns' => ['visitor' => 'v', 'time' => 't', 'name' => 'n', 'url' => 'u'], 'encoding' => 'EBCDIC'], 'encoding: One of'],
    [['time_zone' => 'Mars'], 'time_zone: "Mars" is no time zone'],
    [['goal_changes' => [['goal' => 'x']]], 'goal_changes.0.at: A change needs'],
    [['assignment' => 'other'], 'assignment: One of'],
    [['colour' => 'red'], 'colour: There is no such member'],
]);

it('audits a table of counts', function () {
    $audit = function (string $text, ?array $weights = null): Report {
        $stream = fopen('php://memory', 'w+');
        fwrite($stream, $text);
        rewind($stream);

        return Report::of(CountTable::of($stream, $weights, 0.001));
    };
    // Kohavi, Tang, Xu, "Trustworthy Online Controlled Experiments" (2020), chapter 21: p = 1.8e-6.
    $report = $audit("variant,visitors,conversions\ncontrol,821588,10\nb,815482,12\n", [50.0, 50.0]);
    expect($report->verdict())->toBe('unfit')->and($report->toArray()['srm']['overall']['p'])->toBeGreaterThan(1.7e-6)->toBeLessThan(1.9e-6)
        ->and($report->findings[0]->variant)->toBe('b')->and($report->toArray()['counts']['visitors'])->toBe(1637070)->and($report->toArray()['srm']['sequential']['crossed'])->toBeNull();
    expect($audit("variant;visitors\na;100\nb;105\n")->verdict())->toBe('fit');
    $rows = "variant,day,browser,visitors,conversions\n";
    foreach (range(2, 29) as $day) {
        foreach (['chrome', 'safari'] as $browser) {
            $rows .= sprintf("a,2026-03-%02d,%s,200,20\nb,2026-03-%02d,%s,%d,20\n", $day, $browser, $day, $browser, $browser === 'safari' && $day >= 16 ? 130 : 200);
        }
    }
    $report = $audit($rows);
    expect($report->findings[0]->code)->toBe(AuditCode::SrmSegment)->and($report->findings[0]->segment)->toBe(['dimension' => 'browser', 'value' => 'safari'])
        ->and(dayOf($report->findings[0]->since))->toBe(14.0)->and($report->findings[0]->numbers['missing'])->toBe(980);
    expect($report->toArray()['period'])->toBe(['from' => '2026-03-02T00:00:00.000Z', 'to' => '2026-03-30T00:00:00.000Z']);
    $why = array_column($report->checks, 'why', 'code');
    expect($why['event.bot'])->toContain('no events')->and($why['run.too-short'])->toBeNull()->and($why['goal.dropped'])->toBeNull();
    // Three days are three days, and no week.
    $short = $audit("variant,day,visitors\na,2026-03-02,90\nb,2026-03-02,95\na,2026-03-04,90\nb,2026-03-04,99\n");
    expect(flatFindings($short->findings)[0]->numbers['days'])->toBe(3.0);
    foreach (["variant,visitors\na,1\n" => '1.variant', "variant,n\na,1.5\nb,2" => '2.visitors', "visitors\n1" => '1.variant', "variant,visitors,conversions\na,1,2\nb,1,0" => '2.conversions', "variant,visitors,day\na,1,monday\nb,1,x" => '2.day', '' => '1'] as $text => $field) {
        expect(complaint(fn () => $audit($text)))->toStartWith("{$field}:");
    }
});

it('puts what follows under its cause, and never in a circle', function () {
    $finding = fn (string $code, array $of = []): Finding => new Finding(AuditCode::from($code), Severity::Warning, $code, ...$of);
    $tree = Causes::group([
        $finding('srm.overall', ['variant' => 'b']), $finding('srm.sequential', ['variant' => 'b']), $finding('exposure.missing', ['variant' => 'b']), $finding('goal.no-value', ['goal' => 'x']),
        $finding('gap.drop', ['event' => 'exposure']), $finding('assign.mismatch'),
    ]);
    expect(array_map(fn (Finding $one): string => $one->code->value, $tree))->toBe(['exposure.missing', 'goal.no-value', 'assign.mismatch'])
        ->and(count(flatFindings($tree)))->toBe(6);
    // A silence of all variants alike at another time explains no mismatch.
    $tree = Causes::group([$finding('srm.overall', ['variant' => 'b', 'since' => 10 * 86_400_000]), $finding('gap.silence', ['since' => 3 * 86_400_000, 'until' => 4 * 86_400_000])]);
    expect($tree)->toHaveCount(2);
});

it('counts users as units where the experiment does', function () {
    $lines = [];
    for ($i = 0; $i < 400; $i++) {
        foreach (['phone', 'desk'] as $device) {
            $event = fn (string $name, int $second, array $props = []): string => json_encode(['id' => "{$name}-{$i}-{$device}", 'visitor' => "v{$i}-{$device}", 'user' => "u{$i}", 'time' => gmdate('Y-m-d\TH:i:s\Z', 1_772_500_000 + 3600 * $i + $second), 'name' => $name, 'url' => 'https://shop.test/loan', 'props' => $props]);
            $lines[] = $event('page_view', $device === 'phone' ? 0 : 600);
            $lines[] = $event('exposure', $device === 'phone' ? 1 : 601, ['experiment' => 'by-user', 'variant' => $i % 2 === 0 ? 'a' : 'b']);
        }
    }
    $experiment = ['pellix' => 1, 'key' => 'by-user', 'salt' => 's', 'unit' => 'user', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]], 'audit' => ['assignment' => 'elsewhere']];
    $counts = AuditLogs::audit(implode("\n", $lines), AuditLogs::setup($experiment))->toArray()['counts'];
    expect($counts['exposed'])->toBe(400)->and($counts['visitors'])->toBe(800)->and($counts['variants'])->toBe(['a' => 200, 'b' => 200]);
});

it('counts who kept a variant from an earlier epoch for that one', function () {
    $experiment = [
        'pellix' => 1, 'key' => 'stopped', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 0]],
        'epochs' => [['from' => '2026-03-02T00:00:00Z', 'weights' => ['a' => 1, 'b' => 1]], ['from' => '2026-03-09T00:00:00Z', 'weights' => ['a' => 1, 'b' => 0]]],
    ];
    $setup = AuditLogs::setup($experiment);
    $lines = [];
    for ($i = 0; $i < 300; $i++) {
        // One in ten came in the first week, too, but its exposure of then was lost.
        $variant = $setup->assigner($i % 10 === 0 || $i < 150 ? 0 : 1)->variantOf("v{$i}");
        $second = 1_772_409_600 + 3000 * $i + ($i < 150 && $i % 10 !== 0 ? 0 : 7 * 86_400);
        foreach (['page_view' => [], 'exposure' => ['experiment' => 'stopped', 'variant' => $variant]] as $name => $props) {
            $lines[] = json_encode(['id' => "{$name}{$i}", 'visitor' => "v{$i}", 'time' => $second, 'name' => $name, 'url' => 'https://shop.test/', 'props' => $props]);
        }
    }
    $report = AuditLogs::audit(implode("\n", $lines), $setup)->toArray();
    expect($report['counts']['exposed'])->toBe(300)->and($report['srm']['epochs'][1])->toBeNull()->and($report['srm']['overall']['test'])->not->toBe('zero-weight')
        ->and(array_column($report['findings'], 'code'))->not->toContain('srm.overall')->not->toContain('assign.mismatch');
});

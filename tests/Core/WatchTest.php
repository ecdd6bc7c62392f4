<?php

use Pellix\Core\Audit\Alarm;
use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\Explanation;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Shapes\OnsetWatch;
use Pellix\Core\Audit\Standing;
use Pellix\Core\Audit\Troubles;
use Pellix\Core\Audit\Views\SplitView;
use Pellix\Core\Audit\Views\Views;
use Pellix\Core\Audit\Watch;
use Pellix\Core\Statistics\AnytimeRatio;
use Pellix\Core\Wiring\Findings\Severity;
use Tests\Support\AuditLogs;

/** Looks at a run after each day, as the watch does. @return list<array{int, Finding}> what was told, and after how many days */
function watched(array $faults, int $visitors, int $days, int $first, int $seed = 41): array
{
    $settings = AuditLogs::settings($faults, $visitors, $days, seed: $seed);
    $lines = AuditLogs::lines($settings);
    $known = $told = [];
    for ($day = $first; $day <= $days; $day++) {
        $until = $settings->begin() + 86_400_000 * $day;
        $report = AuditLogs::audit(implode("\n", array_filter($lines, fn (string $line): bool => 1000 * strtotime(json_decode($line, true)['time']) < $until)), AuditLogs::setup(['end' => null] + $settings->experiment(), null, $until));
        $next = Troubles::next($known, Watch::alarms($report), Watch::present($report), intdiv($until, 1000));
        foreach ($next->new as $alarm) {
            $known[] = ['areas' => $alarm->areas, 'over' => null];
            $told[] = [$day, $alarm->finding];
        }
        foreach ($next->grown as $id => $areas) {
            $known[$id]['areas'] = $areas;
        }
        foreach ($next->over as $id) {
            $known[$id]['over'] = intdiv($until, 1000);
        }
    }

    return $told;
}

it('tells nobody anything of a sound run, however often it looks', function () {
    expect(watched([], 1500, 24, 3))->toBe([]);
});

it('tells a split that breaks in the middle once, soon', function () {
    $told = watched(['lose:variant=short:since=12:strength=0.7'], 9000, 24, 10);
    expect(array_column($told, 0))->toHaveCount(1)->and($told[0][0])->toBeGreaterThan(12)->toBeLessThan(16)->and($told[0][1]->variant)->toBe('short');
});

it('tells a silence that began just now, once', function () {
    $told = watched(['silence:since=12:until=14'], 3000, 16, 11);
    expect(array_column($told, 0))->toBe([13])->and($told[0][1]->code)->toBe(AuditCode::GapStale);
});

it('raises fewer alarms than its level on sound splits that are looked at daily', function () {
    mt_srand(11);
    $alarms = 0;
    for ($run = 0; $run < 400; $run++) {
        $days = [];
        for ($day = 1; $day <= 40; $day++) {
            $n = 60;
            $first = 0;
            for ($i = 0; $i < $n; $i++) {
                $first += mt_rand(0, 1);
            }
            $days[sprintf('2026-03-%02d', $day)] = [0 => [0 => $first, 1 => $n - $first]];
        }
        $alarms += OnsetWatch::of($days, [[50.0, 50.0]], 0.05)->crossed === null ? 0 : 1;
    }
    // 20 of 400 at the level; the average of martingales is far below it.
    expect($alarms)->toBeLessThan(20);
});

it('knows since when a split is off', function () {
    $days = [];
    for ($day = 1; $day <= 30; $day++) {
        $days[sprintf('2026-03-%02d', $day)] = [0 => $day <= 20 ? [0 => 90 + $day % 3, 1 => 91] : [0 => 90, 1 => 45]];
    }
    $watch = OnsetWatch::of($days, [[50.0, 50.0]], 0.001);
    expect($watch->since)->toBe('2026-03-21')->and($watch->crossed)->toBe('2026-03-22')
        ->and(OnsetWatch::of(array_slice($days, 0, 20), [[50.0, 50.0]], 0.001)->crossed)->toBeNull();
});

it('takes a trouble for the same whichever finding leads it, and for a new one long after it was over', function () {
    $alarm = fn (array $areas) => new Alarm(new Finding(AuditCode::SrmOverall, Severity::Blocker, 'x'), $areas);
    $known = [7 => ['areas' => ['srm'], 'over' => null], 8 => ['areas' => ['gap'], 'over' => 1_000_000]];
    $same = Troubles::next($known, [$alarm(['exposure', 'srm'])], ['exposure', 'srm'], 2_000_000);
    expect($same->new)->toBe([])->and($same->grown)->toBe([7 => ['srm', 'exposure']])->and($same->over)->toBe([]);
    expect(Troubles::next($known, [], [], 2_000_000)->over)->toBe([7]);
    expect(Troubles::next($known, [$alarm(['gap'])], ['gap', 'srm'], 1_100_000)->back)->toBe([8])
        ->and(Troubles::next($known, [$alarm(['gap'])], ['gap', 'srm'], 2_000_000)->new)->toHaveCount(1);
});

it('compares two audits by what their findings are about', function () {
    $one = fn (string $identity, array $consequences = []) => ['identity' => $identity, 'code' => 'srm.overall', 'severity' => 'blocker', 'message' => $identity, 'consequences' => $consequences];
    $compared = Comparison::between([$one('a', [$one('b')]), $one('c')], [$one('b'), $one('d')]);
    expect($compared->new)->toBe(['d'])->and(array_column($compared->mended, 'identity'))->toBe(['a', 'c'])->and($compared->still)->toBe(1)->and($compared->words())->toBe('1 new, 2 mended')
        ->and(Comparison::between([], [])->words())->toBe('nothing new, nothing mended');
});

it('confirms or contradicts what was said of a finding', function (string $said, ?int $end, int $last, ?int $until, Standing $standing) {
    expect(Standing::of($said, 100 * 3_600_000, $end, $last * 3_600_000, $until === null ? null : $until * 3_600_000))->toBe($standing);
})->with([
    ['explained', null, 500, null, Standing::Explained],
    ['explained', 200 * 3_600_000, 500, null, Standing::Expired],
    ['mended', null, 101, null, Standing::Declared],
    ['mended', null, 500, null, Standing::Contradicted],
    ['mended', null, 500, 102, Standing::Mended],
    ['mended', null, 500, 300, Standing::Contradicted],
]);

it('explains every check, as docs/audit.md does', function (AuditCode $code) {
    $one = Explanation::of($code);
    $doc = preg_replace('/\s+/', ' ', strtr((string) file_get_contents(dirname(__DIR__, 2).'/docs/audit.md'), ['`' => '']));
    expect($doc)->toContain($one->what)->toContain("Statistic and threshold*: {$one->test}")->toContain("Fires falsely*: {$one->falsely}")->toContain("Source*: {$one->source}");
})->with(AuditCode::cases());

it('draws bounds at which the Bayes factor is what the level says', function () {
    $evidence = AuditLogs::faulty(['lose:variant=short:browser=safari:strength=0.6'], 3000)->evidence;
    $split = SplitView::of($evidence);
    $look = $split['looks'][count($split['looks']) - 1];
    $n = array_sum($look['visitors']);
    $prior = AnytimeRatio::prior([[50.0, 50.0]]);
    foreach (['low' => -1, 'high' => 1] as $end => $outward) {
        $x = (int) round($look[$end][1] * $n);
        expect(AnytimeRatio::logBayesFactor([$n - $x, $x], [50, 50], $prior))->toBeLessThanOrEqual(-log(0.001))
            ->and(AnytimeRatio::logBayesFactor([$n - $x - $outward, $x + $outward], [50, 50], $prior))->toBeGreaterThan(-log(0.001));
    }
    expect(array_sum($look['visitors']))->toBe($evidence->exposed())->and($split['epochs'][0]['weights'])->toBe([0.5, 0.5]);
});

it('has the same figures in its views as in its report', function () {
    $report = AuditLogs::faulty(['lose:variant=short:browser=safari:strength=0.6', 'silence:since=12:until=12.5', 'huge-order'], 3000);
    $views = Views::of($report->evidence, Part::of(null, null));
    $all = $report->toArray();
    expect($views['segments']['observed'])->toBe(array_values($all['counts']['variants']))
        ->and(array_column($views['stages']['rows'], 'observed'))->toBe(array_column($all['srm']['stages'], 'observed'))
        ->and($views['stages']['rows'][0]['p'])->toBe($all['srm']['stages'][0]['p'])
        ->and(array_sum(array_column($views['volume']['rows'], 'events')))->toBe($report->evidence->tally->volume->total())
        ->and($views['volume']['gaps'][0]['silence'])->toBeTrue()
        ->and(array_sum(array_column($views['delays']['rows'], 'events')))->toBe($views['delays']['known'])
        ->and(array_sum(array_column($views['orders']['rows'], 'orders')))->toBe($views['orders']['orders'])
        ->and(array_filter(array_merge(...array_column($views['orders']['variants'], 'largest')), fn (array $one): bool => $one['far']))->toHaveCount(1);
});

it('tests a segment alone as a log of that segment alone', function () {
    $settings = AuditLogs::settings(['lose:variant=short:browser=safari:strength=0.4'], 4000);
    $whole = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup($settings->experiment(), null, $settings->end()));
    $part = Part::of(null, null, 'browser', 'safari');
    $safari = $part->evidence($whole->evidence);
    $row = array_values(array_filter($whole->toArray()['srm']['segments'], fn (array $one): bool => $one['dimension'] === 'browser' && $one['value'] === 'safari'))[0];
    $report = Report::of($safari, Part::TESTED);
    expect(array_values($safari->variants()))->toBe($row['observed'])->and($safari->ratio->joined()?->p)->toEqualWithDelta($row['p'], 1e-9)
        ->and(array_sum(array_column(Views::of($safari, $part)['volume']['rows'], 'events')))->toBe($whole->evidence->tally->volume->total("browser\x1fsafari"))
        ->and($report->verdict())->toBe('unfit')
        ->and(array_filter(array_column(Views::of($safari, $part)['segments']['rows'], 'dimension'), fn (string $one): bool => $one === 'hour'))->toBe([]);
    $device = array_values(array_filter(Views::of($safari, $part)['segments']['rows'], fn (array $one): bool => $one['dimension'] === 'device' && $one['value'] === 'mobile'))[0];
    $both = array_values(array_filter($whole->toArray()['srm']['segments'], fn (array $one): bool => $one['dimension'] === 'browser+device' && $one['value'] === 'safari+mobile'))[0];
    expect($device['observed'])->toBe($both['observed']);
});

it('tests a stretch of time alone', function () {
    $settings = AuditLogs::settings(['lose:variant=short:since=14:strength=0.5'], 4000);
    $whole = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup($settings->experiment(), null, $settings->end()))->evidence;
    $at = $settings->begin() + 14 * 86_400_000;
    $before = Part::of(null, $at)->evidence($whole);
    $after = Part::of($at, null)->evidence($whole);
    expect($before->exposed() + $after->exposed())->toBe($whole->exposed())->and($before->ratio->joined()?->p)->toBeGreaterThan(0.001)->and($after->ratio->joined()?->p)->toBeLessThan(1e-6);
});

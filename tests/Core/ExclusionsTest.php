<?php

use Pellix\Core\Audit\Exclusions\Exclusion;
use Pellix\Core\Audit\Exclusions\Exclusions;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Tests\Support\AuditLogs;

/**
 * An audit of a log with exclusions, and one of the log without the lines that they mean, made here by hand.
 *
 * @param callable(array<string, mixed>): bool                                                      $isOut whether an event is left out
 * @param callable(list<array<string, mixed>>): bool                                                $isVisitorOut whether a visitor is, with everything
 */
function withAndByHand(array $faults, array $exclusions, callable $isOut, callable $isVisitorOut, ?callable $change = null): array
{
    $settings = AuditLogs::settings($faults, 2500, 14);
    $experiment = $settings->experiment();
    $events = array_map(static fn (string $line): array => json_decode($line, true), AuditLogs::lines($settings));
    $events = $change === null ? $events : array_map($change, $events);
    $byVisitor = [];
    foreach ($events as $event) {
        $byVisitor[$event['visitor']][] = $event;
    }
    $out = array_filter($byVisitor, $isVisitorOut);
    $left = array_filter($events, static fn (array $event): bool => ! isset($out[$event['visitor']]) && ! $isOut($event));
    $text = static fn (array $some): string => implode("\n", array_map(static fn (array $event): string => (string) json_encode($event), $some));
    $setup = static fn (array $own) => AuditLogs::setup([...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => $own]], null, $settings->end());

    return [AuditLogs::audit($text($events), $setup($exclusions)), AuditLogs::audit($text($left), $setup([])), count($events) - count($left), count($out), AuditLogs::audit($text($events), $setup([]))];
}

/** What two reports have in common where one leaves out what the other never had. */
function comparable(Report $report): array
{
    $all = $report->toArray();
    unset($all['fingerprint'], $all['exclusions'], $all['counts']['lines'], $all['counts']['excluded']);
    // That something was left out unevenly is said of exclusions alone.
    $all['findings'] = array_values(array_filter($all['findings'], static fn (array $one): bool => $one['code'] !== 'exclusion.uneven'));
    $all['checks'] = array_values(array_filter($all['checks'], static fn (array $one): bool => $one['code'] !== 'exclusion.uneven'));

    return $all;
}

it('says of the rest what an audit says of a log that never had what is left out', function (array $faults, array $exclusion, callable $isOut, callable $isVisitorOut, ?callable $change = null) {
    [$with, $byHand, $events, $visitors, $whole] = withAndByHand($faults, [$exclusion], $isOut, $isVisitorOut, $change);
    expect(comparable($with))->toEqual(comparable($byHand))
        ->and($events)->toBeGreaterThan(20)
        ->and($with->toArray()['counts']['excluded'])->toBe($events)
        ->and($with->toArray()['exclusions'][0]['visitors'])->toBe($visitors)
        // The log is the same, whatever is left out of it.
        ->and($with->evidence->fingerprint)->toBe($whole->evidence->fingerprint);
})->with([
    'one’s own people, as they are marked' => [['internal:strength=0.1'], ['name' => 'Office', 'kind' => 'internal'], fn (array $event): bool => false, fn (array $events): bool => array_filter($events, fn (array $one): bool => ($one['props']['internal'] ?? null) === true) !== []],
    'one’s own people, by a rule' => [[], ['name' => 'Firefox', 'kind' => 'internal', 'rule' => ['fact' => 'browser', 'op' => 'is', 'value' => 'firefox']], fn (array $event): bool => false, fn (array $events): bool => array_filter($events, fn (array $one): bool => str_contains($one['agent'], 'Firefox/')) !== []],
    'visitors by their ids' => [[], ['name' => 'Us', 'kind' => 'internal', 'visitors' => ['7', 'us']], fn (array $event): bool => false, fn (array $events): bool => in_array($events[0]['visitor'], ['7', 'us'], true),
        // Digits are a text, too.
        fn (array $event): array => [...$event, 'visitor' => [0 => '7', 1 => 'us'][crc32($event['visitor']) % 40] ?? $event['visitor']]],
    'pages' => [[], ['name' => 'Catalogue', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue']], fn (array $event): bool => str_starts_with((string) parse_url($event['url'], PHP_URL_PATH), '/catalogue'), fn (array $events): bool => false],
]);

it('leaves out a stretch of time with whoever first met the experiment in it, and what is found there', function () {
    [$from, $to] = ['2026-03-09T00:00:00Z', '2026-03-11T00:00:00Z'];
    $isIn = static fn (array $event): bool => $event['time'] >= '2026-03-09T00:00' && $event['time'] < '2026-03-11T00:00';
    $first = static function (array $events) use ($isIn): bool {
        usort($events, static fn (array $a, array $b): int => $a['time'] <=> $b['time']);
        $met = array_values(array_filter($events, static fn (array $one): bool => $one['name'] === 'exposure'))[0] ?? null;

        return $met !== null && $isIn($met);
    };
    [$with, $byHand, , , $whole] = withAndByHand([], [['name' => 'Broken days', 'kind' => 'time', 'from' => $from, 'to' => $to]], $isIn, $first);
    expect($with->evidence->variants())->toBe($byHand->evidence->variants())->not->toBe($whole->evidence->variants())
        ->and($with->evidence->ratio->joined()?->toArray())->toBe($byHand->evidence->ratio->joined()?->toArray());
    // By hand it is a hole in the log; left out it is nobody's concern.
    $codes = static fn (Report $report): array => array_column($report->toArray()['findings'], 'code');
    expect(array_filter($codes($byHand), static fn (string $code): bool => str_starts_with($code, 'gap.')))->not->toBe([])
        ->and(array_filter($codes($with), static fn (string $code): bool => str_starts_with($code, 'gap.')))->toBe([])
        ->and($whole->verdict())->toBe('fit')->and($with->verdict())->toBe('fit')->and($byHand->verdict())->not->toBe('fit');
});

it('leaves programs out, whether they say so or are only fast, and says that it took them unevenly', function () {
    $faulty = static fn (array $exclusions): Report => (static function () use ($exclusions): Report {
        $settings = AuditLogs::settings(['bots:variant=short:strength=0.2'], 3000, 14);
        $experiment = $settings->experiment();

        return AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup([...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => $exclusions]], null, $settings->end()));
    })();
    [$whole, $with] = [$faulty([]), $faulty([['name' => 'Programs', 'kind' => 'bots']])];
    expect(array_column($whole->toArray()['findings'], 'code'))->toContain('event.bot');
    $said = $with->toArray();
    expect(array_column($said['findings'], 'code'))->toContain('exclusion.uneven')->not->toContain('event.bot')->not->toContain('srm.overall')
        ->and($with->evidence->tally->hygiene->crawlers + $with->evidence->tally->hygiene->inhuman)->toBe(0)
        ->and($said['exclusions'][0]['visitors'])->toBe($whole->evidence->tally->hygiene->crawlers + $whole->evidence->tally->hygiene->inhuman)
        ->and($said['exclusions'][0]['p'])->toBeLessThan(0.001);
});

it('counts what several leave out for each of them, and once in all', function () {
    $settings = AuditLogs::settings(['internal:strength=0.2'], 800, 14);
    $experiment = $settings->experiment();
    $with = AuditLogs::audit(implode("\n", AuditLogs::lines($settings)), AuditLogs::setup([...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => [['name' => 'A', 'kind' => 'internal'], ['name' => 'B', 'kind' => 'internal']]]], null, $settings->end()));
    $counts = $with->toArray()['counts'];
    [$a, $b] = $with->toArray()['exclusions'];
    expect($a['events'])->toBe($b['events'])->toBe($counts['excluded'])->and($counts['events'] + $counts['repeated'] + $counts['excluded'] + $counts['later'])->toBe($counts['lines']);
});

it('says the same where events come visitor by visitor, in parts, and from two processes', function () {
    $settings = AuditLogs::settings(['internal:strength=0.1'], 1500, 14);
    $experiment = $settings->experiment();
    $setup = AuditLogs::setup([...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => [['name' => 'Office', 'kind' => 'internal'], ['name' => 'Catalogue', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/catalogue']]]]], null, $settings->end());
    $lines = AuditLogs::lines($settings);
    $one = comparable(AuditLogs::audit(implode("\n", $lines), $setup));
    expect(comparable(AuditLogs::audit(implode("\n", $lines), $setup, two: 0)))->toEqual($one);
    // Ids are unique where events are stored.
    $visitors = [];
    foreach ($lines as $line) {
        $event = json_decode($line, true);
        $visitors[$event['visitor']][$event['id']] ??= $event;
    }
    $halves = [[], []];
    foreach (array_values($visitors) as $i => $events) {
        $halves[$i % 2][] = array_values($events);
    }
    $stored = Report::of(LogAudit::ofVisitors(static fn (int $half): array => $halves[$half], $setup, static fn () => null))->toArray();
    expect($stored['exclusions'][0]['visitors'])->toBe(Report::of(LogAudit::of([array_map(static fn (string $line): array => json_decode($line, true), $lines)], $setup, static fn () => null))->toArray()['exclusions'][0]['visitors'])
        ->and($stored['counts']['variants'])->toBe($one['counts']['variants']);
});

it('refuses an exclusion that means nothing', function (mixed $json, string $words) {
    expect(complaint(fn () => Exclusion::read($json)))->toContain($words);
})->with([
    [[], 'name: '],
    [['name' => 'A'], 'kind: One of bots, internal, time, page'],
    [['name' => 'A', 'kind' => 'time'], 'from: A stretch of time needs both its ends'],
    [['name' => 'A', 'kind' => 'time', 'from' => '2026-03-02T00:00:00Z', 'to' => '2026-03-02T00:00:00Z'], 'to: It ends after it begins.'],
    [['name' => 'A', 'kind' => 'page'], 'rule: Say which pages'],
    [['name' => 'A', 'kind' => 'internal', 'rule' => null], 'rule: Say by which rule'],
    [['name' => 'A', 'kind' => 'internal', 'visitors' => []], 'visitors: Name one visitor'],
    [['name' => 'A', 'kind' => 'internal', 'visitors' => [7]], 'visitors.0: The id of a visitor is a text'],
    [['name' => 'A', 'kind' => 'internal', 'visitors' => array_fill(0, 1001, 'v')], 'visitors: Name 1000 visitors at most'],
    [['name' => 'A', 'kind' => 'bots', 'rule' => ['all' => []]], 'rule: '],
    [['name' => 'A', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'nope', 'value' => '/']], 'rule.op: '],
]);

it('takes thirty exclusions, and says which one is wrong', function () {
    expect(complaint(fn () => Exclusions::read(array_fill(0, 31, ['name' => 'A', 'kind' => 'bots']))))->toContain('30 exclusions at most')
        ->and(complaint(fn () => Exclusions::read([['name' => 'A', 'kind' => 'bots'], ['name' => 'B', 'kind' => 'x']])))->toStartWith('1.kind: ');
});

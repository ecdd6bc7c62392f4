<?php

use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Rows\Behind;
use Pellix\Core\Audit\Rows\Rows;
use Pellix\Core\Audit\Rows\Sought;
use Pellix\Core\Audit\Views\Views;
use Tests\Support\AuditLogs;

/** @return array{0: Pellix\Core\Audit\Evidence, 1: callable(Behind, ?string, ?string, Part): array<string, mixed>} what an audit counted, and the rows behind its numbers */
function rowsOf(array $faults, array $exclusions = []): array
{
    $settings = AuditLogs::settings($faults, 1500, 14);
    $experiment = $settings->experiment();
    $setup = AuditLogs::setup([...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => $exclusions]], null, $settings->end());
    $rows = array_map(static fn (string $line): array => json_decode($line, true), AuditLogs::lines($settings));

    return [
        LogAudit::of([$rows], $setup, static fn () => null),
        static fn (Behind $behind, ?string $variant, ?string $goal, Part $part): array => Rows::ofLog([$rows], $setup, Sought::of($setup, $behind, $variant, $goal, $part), static fn () => null)->toArray(),
    ];
}

it('finds as many as the audit has counted, of every number', function (array $faults, array $exclusions) {
    [$evidence, $rows] = rowsOf($faults, $exclusions);
    $all = Part::of(null, null);
    $tally = $evidence->tally;
    $goal = $evidence->setup->goals[0]->key;
    $wanted = [
        'exposed' => $tally->split->exposed, 'assigned' => $tally->split->due, 'missing' => $tally->split->missing, 'page-view-after' => $tally->split->moved, 'second-event-after' => $tally->split->active,
        'goal-page' => $tally->split->near, 'pageless' => $tally->split->pageless, 'wrong-variant' => $tally->assignment->wrong, 'switched' => $tally->assignment->switched, 'unknown-variant' => $tally->assignment->strange,
        'outside-page' => $tally->assignment->outside['page'], 'outside-audience' => $tally->assignment->outside['audience'], 'outside-run' => $tally->assignment->outside['run'], 'outside-share' => $tally->assignment->outside['share'],
        'internal' => $tally->hygiene->insiders, 'copies' => $tally->hygiene->copies, 'twice' => $tally->hygiene->twice, 'off-plan' => $tally->hygiene->offPlan, 'personal' => $tally->hygiene->personal,
        'disorder' => $tally->hygiene->disorder, 'referred' => $tally->hygiene->broken, 'late' => $tally->delays->late, 'clocks' => $tally->delays->off, 'orders' => $tally->orders->orders,
        'hits' => $tally->goals[0]->hits, 'reached' => $tally->goals[0]->reached, 'hits-again' => $tally->goals[0]->again, 'hits-without-value' => $tally->goals[0]->worthless, 'hits-before' => $tally->goals[0]->early,
    ];
    $some = 0;
    foreach ($wanted as $name => $cohorts) {
        $found = $rows(Behind::from($name), null, $goal, $all);
        expect($found['total'])->toBe($cohorts->total(), $name)->and(count($found['rows']))->toBe(min($found['units'], Rows::MOST), $name);
        $some += $found['total'] > 0 ? 1 : 0;
    }
    expect($rows(Behind::Bots, null, null, $all)['total'])->toBe($tally->hygiene->crawlers + $tally->hygiene->inhuman)->and($some)->toBeGreaterThan(6)
        ->and(count(Behind::cases()))->toBe(count($wanted) + 2);
    foreach ($evidence->variants() as $variant => $n) {
        expect($rows(Behind::Exposed, $variant, null, $all)['total'])->toBe($n);
    }
})->with([
    'bots and own people' => [['bots:variant=short:strength=0.1', 'internal:strength=0.1', 'copies:strength=0.05'], []],
    'bots and own people, left out' => [['bots:variant=short:strength=0.1', 'internal:strength=0.1'], [['name' => 'Office', 'kind' => 'internal'], ['name' => 'Programs', 'kind' => 'bots']]],
    'assignment' => [['wrong-variant:strength=0.1', 'switch:strength=0.1', 'unknown-variant:strength=0.05', 'outside-share:strength=0.05'], []],
    'goals and clocks' => [['double-goal:strength=0.2', 'late:strength=0.1', 'clock:strength=0.1', 'double:strength=0.1', 'lose-exposures:strength=0.1'], []],
]);

it('finds those of a segment and of a stretch, as the audit tests them', function () {
    [$evidence, $rows] = rowsOf([]);
    foreach ([Part::of(null, null, 'browser', 'firefox'), Part::of(strtotime('2026-03-05T00:00:00Z') * 1000, strtotime('2026-03-08T00:00:00Z') * 1000), Part::of(strtotime('2026-03-05T00:00:00Z') * 1000, null, 'device', 'mobile')] as $part) {
        $own = $part->evidence($evidence);
        foreach ($own->variants() as $variant => $n) {
            expect($rows(Behind::Exposed, $variant, null, $part)['total'])->toBe($n)->and($n)->toBeGreaterThan(10);
        }
    }
    $firefox = $rows(Behind::Exposed, 'short', null, Part::of(null, null, 'browser', 'firefox'))['rows'];
    expect(array_unique(array_column($firefox, 'browser')))->toBe(['firefox'])->and(array_unique(array_column($firefox, 'variant')))->toBe(['short'])
        ->and(array_column($firefox, 'at'))->toBe(collect($firefox)->pluck('at')->sort()->values()->all())
        // Among the events of each is the exposure that counts.
        ->and(array_filter($firefox, fn (array $row): bool => ! in_array([$row['at'], 'exposure', 'short'], array_map(fn (array $event): array => [$event['at'], $event['name'], $event['variant']], $row['around']), true)))->toBe([]);
});

it('finds the events of an hour, as the volume shows them', function () {
    [$evidence, $rows] = rowsOf(['bots:variant=short:strength=0.05']);
    $volume = Views::of($evidence, Part::of(null, null))['volume'];
    expect($volume['step_hours'])->toBe(1);
    foreach ([30, 100, 200] as $at) {
        $hour = $volume['rows'][$at];
        $since = 1000 * strtotime($hour['at']);
        $found = $rows(Behind::Events, null, null, Part::of($since, $since + 3_600_000));
        expect($found['total'])->toBe($hour['events'])->and(array_sum(array_column($found['rows'], 'n')))->toBe($hour['events']);
    }
});

it('repeats no page of personal data', function () {
    [, $rows] = rowsOf(['personal:strength=0.05']);
    $found = $rows(Behind::Personal, null, null, Part::of(null, null));
    expect($found['total'])->toBeGreaterThan(5)->and(json_encode($found))->not->toContain('@')->and(array_unique(array_column($found['rows'], 'page')))->toBe(['']);
});

it('refuses what there is not', function (?string $variant, Behind $behind, ?string $goal, string $field) {
    $settings = AuditLogs::settings([], 10, 2);
    try {
        Sought::of(AuditLogs::setup($settings->experiment()), $behind, $variant, $goal, Part::of(null, null));
        $said = '';
    } catch (InvalidAudit $e) {
        $said = $e->field;
    }
    expect($said)->toBe($field);
})->with([['nope', Behind::Exposed, null, 'variant'], [null, Behind::Hits, null, 'goal'], [null, Behind::Hits, 'nope', 'goal'], ['short', Behind::Exposed, null, '']]);

<?php

use Pellix\Core\Audit\Incremental\Checkpoint;
use Pellix\Core\Audit\Incremental\StaleCheckpoint;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Views\Views;
use Tests\Support\AuditLogs;

/**
 * All events of each visitor that had arrived by a moment.
 *
 * @return array<string, list<array<string, mixed>>>
 */
function arrivedBy(array $lines, int $until): array
{
    $visitors = [];
    foreach ($lines as $line) {
        $event = json_decode($line, true);
        $at = static fn (string $time): float => (float) (new DateTimeImmutable($time))->format('U.v') * 1000;
        if ($at($event['time']) <= $until && $at($event['received'] ?? $event['time']) <= $until) {
            // Ids are unique where events are stored.
            $visitors["#{$event['visitor']}"][$event['id']] ??= $event;
        }
    }

    return array_map(array_values(...), $visitors);
}

/** All that is said: findings, counts, views. */
function allThatIsSaid(Checkpoint $checkpoint, Setup $setup): string
{
    $evidence = $checkpoint->evidence($setup);

    return (string) json_encode([Report::of($evidence)->toArray(), Views::of($evidence, Part::of(null, null))], JSON_PRETTY_PRINT | JSON_PRESERVE_ZERO_FRACTION | JSON_THROW_ON_ERROR);
}

function wholeOf(array $visitors, Setup $setup): Checkpoint
{
    return Checkpoint::ofVisitors(static fn (int $half): array => array_values(array_filter($visitors, static fn (string $visitor): bool => crc32($visitor) % 2 === $half, ARRAY_FILTER_USE_KEY)), $setup, static fn () => null);
}

/** As it comes back from where it was kept. */
function keptAndRead(Checkpoint $checkpoint): Checkpoint
{
    $file = tmpfile();
    $checkpoint->write($file);
    rewind($file);

    return Checkpoint::read($file);
}

/** @return Generator<int, array{list<array<string, mixed>>, list<array<string, mixed>>}> */
function changedSince(array $before, array $now): Generator
{
    foreach ($now as $visitor => $events) {
        if (count($events) !== count($before[$visitor] ?? [])) {
            yield [$before[$visitor] ?? [], $events];
        }
    }
}

it('says day by day, from what is new alone, what an audit of everything says', function (array $faults, array $exclusions, int $visitors = 1500) {
    $settings = AuditLogs::settings($faults, $visitors, 16);
    $lines = AuditLogs::lines($settings);
    $experiment = ['end' => null] + $settings->experiment();
    $experiment = [...$experiment, 'audit' => [...$experiment['audit'] ?? [], 'exclusions' => $exclusions]];
    $checkpoint = $before = null;
    $all = $read = 0;
    foreach ([5, 8, 9.4, 16] as $day) {
        $until = $settings->begin() + (int) (86_400_000 * $day);
        $setup = AuditLogs::setup($experiment, null, $until);
        $now = arrivedBy($lines, $until);
        $whole = wholeOf($now, $setup);
        if ($checkpoint === null) {
            $checkpoint = $whole;
        } else {
            $all += array_sum(array_map(count(...), $now));
            $read += $checkpoint->goOn(changedSince($before, $now), $setup, static fn () => null);
            expect(allThatIsSaid(keptAndRead($checkpoint), $setup))->toBe(allThatIsSaid($whole, $setup));
        }
        $checkpoint = keptAndRead($checkpoint);
        $before = $now;
    }
    expect($read)->toBeGreaterThan(0)->toBeLessThan(0.6 * $all);
})->with([
    'a sound run' => [[], []],
    'with a split that breaks' => [['lose:variant=short:since=8:strength=0.5'], []],
    'with visitors who change their variant, users in several, and orders told again' => [['switch:strength=0.05', 'user-split:strength=0.3', 'double-order:strength=0.05'], []],
    'with a silence, late events and clocks that are off' => [['silence:since=9:until=10', 'late:strength=0.2', 'clock:strength=0.1'], []],
    'with large orders, programs and one’s own people' => [['huge-order:variant=short', 'bots:strength=0.1', 'internal:strength=0.1', 'unknown-variant:strength=0.02'], []],
    'with exclusions' => [['internal:strength=0.1', 'bots:strength=0.1'], [['name' => 'Office', 'kind' => 'internal'], ['name' => 'Catalogue', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue']]]],
]);

it('is refused where it was made of other events, is cut, or is no checkpoint', function () {
    $settings = AuditLogs::settings(['user-split:strength=0.3'], 600, 10);
    $lines = AuditLogs::lines($settings);
    $early = $settings->begin() + 5 * 86_400_000;
    $setup = AuditLogs::setup(['end' => null] + $settings->experiment(), null, $early);
    $before = arrivedBy($lines, $early);
    $of = static fn (array $visitors): Checkpoint => wholeOf($visitors, $setup);
    // A third of what it is said to have counted it never saw.
    expect(fn () => $of(array_filter($before, static fn (string $one): bool => crc32($one) % 3 > 0, ARRAY_FILTER_USE_KEY))->goOn(array_map(static fn (array $events): array => [$events, $events], array_values($before)), $setup, static fn () => null))->toThrow(StaleCheckpoint::class);

    $file = tmpfile();
    $of($before)->write($file);
    rewind($file);
    $written = (string) stream_get_contents($file);
    foreach ([substr($written, 0, -1), substr($written, 0, 500), '', 'nonsense', str_replace('Audit\\Sums\\SplitSum', 'Audit\\Sums\\SplitSun', $written)] as $broken) {
        $file = tmpfile();
        fwrite($file, $broken);
        rewind($file);
        expect(fn () => Checkpoint::read($file))->toThrow(StaleCheckpoint::class);
    }
});

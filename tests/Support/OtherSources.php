<?php

declare(strict_types=1);

namespace Tests\Support;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Reconcile\Other;
use Pellix\Core\Reconcile\OtherColumns;
use Pellix\Core\Reconcile\Ours;
use Pellix\Core\Reconcile\Reconciliation;

/** A log of invented visitors, and what another source says of them. */
final class OtherSources
{
    /** @var list<string>|null */
    private static ?array $lines = null;

    /** @return list<string> */
    public static function lines(): array
    {
        return self::$lines ??= AuditLogs::lines(AuditLogs::settings(visitors: 4000));
    }

    public static function setup(): Setup
    {
        return AuditLogs::setup(AuditLogs::settings(visitors: 4000)->experiment());
    }

    /** @param array<string, mixed>|null $map */
    public static function reconcile(string $csv, ?array $map = null, float $tolerance = 0.05, int $window = 600, ?Setup $setup = null, ?array $lines = null, ?string $goal = null): array
    {
        $setup ??= self::setup();
        $zone = $setup->settings->zone->getName();
        $other = Other::of(self::stream($csv), $map === null ? OtherColumns::ours($zone) : OtherColumns::read($map, $zone), $setup->variants);

        return Reconciliation::of(Ours::of([LogReader::rows(self::stream(implode("\n", $lines ?? self::lines())), false, null, true)], $setup, static fn () => null, $goal === null ? null : (int) array_search($goal, array_column($setup->goals, 'key'), true)), $other, $setup, $tolerance, $window, $goal)->toArray();
    }

    /** @return resource */
    private static function stream(string $text)
    {
        $stream = fopen('php://memory', 'w+');
        fwrite($stream, $text);
        rewind($stream);

        return $stream;
    }

    /**
     * Distinct visitors of each day and variant who were exposed on it, counted the plain way.
     *
     * @param callable(string, string, string): bool $keep whether a visitor is counted: its id, variant and day
     */
    public static function days(float $hoursAhead, callable $keep): string
    {
        $seen = [];
        foreach (self::lines() as $line) {
            $event = json_decode($line, true);
            if ($event['name'] === 'exposure' && $event['props']['experiment'] === 'loan-steps') {
                $day = gmdate('Y-m-d', (int) (strtotime($event['time']) + 3600 * $hoursAhead));
                $seen[$day][$event['props']['variant']][$event['visitor']] = true;
            }
        }
        $csv = "visitors,day,variant\n";
        foreach (array_reverse($seen) as $day => $variants) {
            foreach ($variants as $variant => $visitors) {
                $csv .= count(array_filter(array_keys($visitors), static fn ($visitor): bool => $keep((string) $visitor, $variant, $day))).",{$day},{$variant}\n";
            }
        }

        return $csv;
    }

    /**
     * @param callable(int, list<string>): list<list<string>> $change number and cells (order_id, time, value, currency) of an order => rows of their file
     *
     * @return array{string, int} CSV, and the number of our orders
     */
    public static function orders(callable $change): array
    {
        $known = $rows = [];
        foreach (self::lines() as $line) {
            $event = json_decode($line, true);
            if (isset($event['props']['order_id']) && ! isset($known[$event['props']['order_id']])) {
                $known[$event['props']['order_id']] = true;
                array_push($rows, ...$change(count($known), [(string) $event['props']['order_id'], $event['time'], (string) $event['props']['value'], $event['props']['currency']]));
            }
        }

        return ["order_id,time,value,currency\n".implode("\n", array_map(static fn (array $row): string => implode(',', $row), array_reverse($rows)))."\n", count($known)];
    }

    /** Whether a visitor is among so many of a hundred, always the same ones. */
    /**
     * Views of the page of a goal, by day and variant of whoever had met it, each id once.
     *
     * @param callable(string): float $kept part of the hits of a variant that the other source has
     */
    public static function hits(string $path, callable $kept): string
    {
        $ids = $met = $hits = [];
        $events = array_map(static fn (string $line): array => json_decode($line, true), self::lines());
        usort($events, static fn (array $a, array $b): int => $a['time'] <=> $b['time']);
        foreach ($events as $event) {
            if (isset($ids[$event['id']])) {
                continue;
            }
            $ids[$event['id']] = true;
            if ($event['name'] === 'exposure' && $event['props']['experiment'] === 'loan-steps') {
                $met[$event['visitor']] ??= $event['props']['variant'];
            } elseif ($event['name'] === 'page_view' && parse_url($event['url'], PHP_URL_PATH) === $path && isset($met[$event['visitor']])) {
                $day = substr($event['time'], 0, 10);
                $hits[$day][$met[$event['visitor']]] = ($hits[$day][$met[$event['visitor']]] ?? 0) + 1;
            }
        }
        $csv = "day,variant,hits\n";
        foreach ($hits as $day => $variants) {
            foreach ($variants as $variant => $n) {
                $csv .= "{$day},{$variant},".(int) round($n * $kept($variant))."\n";
            }
        }

        return $csv;
    }

    public static function isAmong(string $visitor, int $percent): bool
    {
        return crc32("lost {$visitor}") % 100 < $percent;
    }
}

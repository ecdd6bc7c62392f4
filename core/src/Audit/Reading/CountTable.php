<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Tally;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\TableRows;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Formats\Spool;

/** A table of counts instead of a log: `variant,visitors,conversions`, perhaps with a `day` or a column of a segment. Only what counts tell is audited. */
final class CountTable
{
    /** Checks that a table tells enough for. */
    public const TELLS = [
        AuditCode::SrmOverall, AuditCode::SrmSequential, AuditCode::SrmSegment, AuditCode::SrmOnset, AuditCode::GoalSilent, AuditCode::GoalDropped, AuditCode::GoalNever,
        AuditCode::RunShort, AuditCode::RunWeek, AuditCode::RunFew,
    ];

    private const CALLED = [
        'variant' => ['variant', 'variant_key', 'group'],
        'visitors' => ['visitors', 'users', 'units', 'n', 'count'],
        'conversions' => ['conversions', 'converted', 'goals', 'hits'],
        'day' => ['day', 'date'],
    ];

    /**
     * @param resource         $stream
     * @param list<float>|null $weights in the order in which the variants first come; null for equal ones
     *
     * @throws InvalidAudit whose field is the line and the column
     */
    public static function of($stream, ?array $weights, float $alpha, ?Settings $settings = null): Evidence
    {
        [$rows, $has] = self::rows($stream);
        $variants = array_values(array_unique(array_column($rows, 'variant')));
        if (count($variants) < 2) {
            throw new InvalidAudit('A table of counts needs at least two variants.', '1.variant');
        }
        if ($weights !== null && count($weights) !== count($variants)) {
            throw new InvalidAudit(count($weights).' weights were given for '.count($variants).' variants: '.implode(', ', $variants).'.', 'weights');
        }
        $places = array_flip($variants);
        $experiment = Experiment::read([
            'pellix' => 1, 'key' => 'counts', 'salt' => 'counts',
            // Keys that an experiment could not have are told by their place.
            'variants' => array_map(static fn (string $key, int $i): array => ['key' => preg_match('/\A[a-z0-9][a-z0-9_-]{0,39}\z/', $key) === 1 ? $key : 'variant-'.($i + 1), 'name' => mb_substr($key, 0, 120), 'weight' => $weights[$i] ?? 1], $variants, array_keys($variants)),
            'goals' => $has['conversions'] ? [['key' => 'conversion', 'kind' => 'event', 'event' => 'conversion', 'count' => 'visitor']] : [],
        ]);
        $setup = new Setup($experiment, null, null, $settings ?? Settings::read(['assignment' => 'elsewhere']), $alpha);
        $tally = new Tally($setup);
        $visitors = 0;
        foreach ($rows as $row) {
            $keys = ['', ...array_map(static fn (string $dimension, string $value): string => Keys::key($dimension, $value), array_keys($row['segments']), $row['segments'])];
            $tally->split->exposed->add($keys, 0, $row['hour'], $places[$row['variant']], $row['visitors']);
            $visitors += $row['visitors'];
            if ($row['conversions'] > 0) {
                $tally->goals[0]->reached->add($keys, 0, $row['hour'], $places[$row['variant']], $row['conversions']);
                $tally->goals[0]->soon->add($keys, 0, $row['hour'], $places[$row['variant']], $row['conversions']);
            }
        }
        if ($visitors === 0) {
            throw new InvalidAudit('All counts are zero: there is nothing to test yet.', '2.visitors');
        }
        if ($has['day']) {
            $tally->volume->first = 3_600_000 * min(array_column($rows, 'hour'));
            $tally->volume->last = 3_600_000 * (24 + max(array_column($rows, 'hour')));
        }
        $none = [new Spool(1), new Spool(1)];

        return new Evidence($setup, $tally, count($rows), 0, 0, new Skipped(), 0, 0, $visitors, Users::of($none, $setup), Orders::of([new Spool(1), new Spool(1)]), true, $has['day']);
    }

    /**
     * @param resource $stream
     *
     * @return array{list<array{variant: string, visitors: int, conversions: int, hour: int, segments: array<string, string>}>, array<string, bool>} rows, and
     *                                                                                                                           which columns there are
     */
    private static function rows($stream): array
    {
        try {
            $table = TableRows::of($stream);
        } catch (InvalidLog $e) {
            throw new InvalidAudit($e->getMessage(), $e->field);
        }
        $columns = $table->columns(self::CALLED);
        foreach (['variant', 'visitors'] as $needed) {
            if ($table->header !== [] && $columns[$needed] === null) {
                throw new InvalidAudit("The header row has no column \"{$needed}\".", "{$table->line}.{$needed}");
            }
        }
        $rows = [];
        foreach ($table->rows as $line => $cells) {
            $rows[] = [...self::row($cells, $columns, $line), 'segments' => $table->others($cells, $columns)];
        }
        if ($rows === []) {
            throw new InvalidAudit('The table has no rows: variant,visitors,conversions and a row for each variant are needed.', '1');
        }

        return [$rows, array_map(static fn (?int $place): bool => $place !== null, $columns)];
    }

    /**
     * @param list<string>            $cells
     * @param array<string, int|null> $columns
     *
     * @return array{variant: string, visitors: int, conversions: int, hour: int}
     */
    private static function row(array $cells, array $columns, int $line): array
    {
        $number = static function (string $what) use ($cells, $columns, $line): int {
            $cell = $columns[$what] === null ? '0' : trim($cells[$columns[$what]]);
            if (preg_match('/\A\d{1,12}\z/', $cell) !== 1) {
                throw new InvalidAudit("\"{$cell}\" is no count: a whole number that is not negative is needed.", "{$line}.{$what}");
            }

            return (int) $cell;
        };
        $variant = trim($cells[(int) $columns['variant']]);
        if ($variant === '') {
            throw new InvalidAudit('The variant is missing.', "{$line}.variant");
        }
        $written = $columns['day'] === null ? null : substr(trim($cells[$columns['day']]), 0, 10);
        $day = $written === null ? null : (str_contains($written, "\0") ? false : \DateTimeImmutable::createFromFormat('!Y-m-d', $written, new \DateTimeZone('UTC')));
        if ($day === false) {
            throw new InvalidAudit('A day is written like 2026-03-02.', "{$line}.day");
        }
        $visitors = $number('visitors');
        $conversions = $number('conversions');
        if ($conversions > $visitors) {
            throw new InvalidAudit('More visitors reached the goal than there are.', "{$line}.conversions");
        }

        return ['variant' => $variant, 'visitors' => $visitors, 'conversions' => $conversions, 'hour' => $day === null ? 0 : intdiv($day->getTimestamp(), 3600)];
    }
}

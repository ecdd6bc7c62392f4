<?php

declare(strict_types=1);

namespace App\ReadoutReport;

use Pellix\Core\Formats\Csv;

/** The figures of a readout as CSV (RFC 4180): a row for each goal and variant; why the cover was lifted stands in each. */
final class ReadoutTable
{
    private const HEADER = ['goal', 'role', 'measure', 'variant', 'control', 'n', 'hits', 'rate', 'mean', 'sd', 'points', 'low', 'high', 'p', 'p_raw', 'test', 'relative', 'relative_low', 'relative_high', 'better', 'expected_loss', 'verdict', 'interval', 'level', 'data_fit', 'reason'];

    /** @param array<string, mixed> $report as `Readout::toArray()` has it */
    public static function of(array $report): string
    {
        $file = fopen('php://temp', 'w+') ?: throw new \RuntimeException('No temporary file can be made.');
        fputcsv($file, self::HEADER, ',', '"', '', "\r\n");
        foreach ([...$report['goals'], ...$report['visits']] as $goal) {
            foreach ($goal['variants'] as $one) {
                $difference = $one['difference'] ?? [];
                $relative = $one['relative'] ?? [];
                fputcsv($file, array_map(self::cell(...), [
                    $goal['key'], $goal['role'], $goal['measure'], $one['key'], $one['control'], $one['n'] ?? null, $one['hits'] ?? null, $one['rate'] ?? null, $one['mean'] ?? null, $one['sd'] ?? null,
                    $difference['points'] ?? null, $difference['low'] ?? null, $difference['high'] ?? null, $difference['p'] ?? null, $difference['p_raw'] ?? null, $difference['test'] ?? null,
                    $relative['value'] ?? null, $relative['low'] ?? null, $relative['high'] ?? null, $one['better'] ?? null, $one['expected_loss'] ?? null, $one['verdict'] ?? null,
                    $report['interval'], $report['level'], $report['gate']['open'] ? 'yes' : 'no', $report['gate']['reason'],
                ]), ',', '"', '', "\r\n");
            }
        }

        return (string) stream_get_contents($file, null, 0);
    }

    private static function cell(mixed $value): string
    {
        return match (true) {
            is_bool($value) => $value ? 'yes' : 'no',
            is_int($value) || is_float($value) => (string) json_encode($value),
            default => Csv::harmless(is_string($value) ? $value : ''),
        };
    }
}

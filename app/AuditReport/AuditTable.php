<?php

declare(strict_types=1);

namespace App\AuditReport;

use Pellix\Core\Formats\Csv;

/** The findings of an audit as CSV (RFC 4180): one a row, with that which it follows from. */
final class AuditTable
{
    private const HEADER = ['code', 'severity', 'link', 'follows_from', 'variant', 'goal', 'event', 'page', 'dimension', 'value', 'since', 'until', 'message', 'numbers'];

    /** @param array<string, mixed> $report as `Report::toArray()` has it */
    public static function of(array $report): string
    {
        $file = fopen('php://temp', 'w+') ?: throw new \RuntimeException('No temporary file can be made.');
        fputcsv($file, self::HEADER, ',', '"', '', "\r\n");
        foreach ($report['findings'] as $finding) {
            self::write($file, $finding, '');
        }

        return (string) stream_get_contents($file, null, 0);
    }

    /**
     * @param resource             $file
     * @param array<string, mixed> $finding
     */
    private static function write($file, array $finding, string $from): void
    {
        $numbers = (string) json_encode((object) $finding['numbers'], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION);
        fputcsv($file, array_map(static fn (?string $cell): string => Csv::harmless($cell ?? ''), [
            $finding['code'], $finding['severity'], $finding['link'], $from, $finding['variant'], $finding['goal'], $finding['event'], $finding['page'],
            $finding['segment']['dimension'] ?? null, $finding['segment']['value'] ?? null, $finding['since'], $finding['until'], $finding['message'], $numbers,
        ]), ',', '"', '', "\r\n");
        foreach ($finding['consequences'] as $one) {
            self::write($file, $one, $finding['code']);
        }
    }
}

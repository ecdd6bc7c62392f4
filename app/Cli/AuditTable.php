<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Report;
use Pellix\Core\Formats\Csv;

/** The findings of an audit as CSV (RFC 4180): one a row, with that which it follows from. */
final class AuditTable
{
    private const HEADER = ['code', 'severity', 'link', 'follows_from', 'variant', 'goal', 'event', 'page', 'dimension', 'value', 'since', 'until', 'message', 'numbers'];

    public static function of(Report $report): string
    {
        $file = fopen('php://temp', 'w+') ?: throw new \RuntimeException('No temporary file can be made.');
        fputcsv($file, self::HEADER, ',', '"', '', "\r\n");
        foreach ($report->findings as $finding) {
            self::write($file, $finding, '');
        }

        return (string) stream_get_contents($file, null, 0);
    }

    /** @param resource $file */
    private static function write($file, Finding $finding, string $from): void
    {
        $row = $finding->toArray();
        fputcsv($file, array_map(static fn (?string $cell): string => Csv::harmless($cell ?? ''), [
            $finding->code->value, $finding->severity->value, $finding->code->link()->value, $from, $finding->variant, $finding->goal, $finding->event, $finding->page,
            $finding->segment['dimension'] ?? null, $finding->segment['value'] ?? null, Finding::time($finding->since), Finding::time($finding->until), $finding->message,
            (string) json_encode($row['numbers'], JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PARTIAL_OUTPUT_ON_ERROR),
        ]), ',', '"', '', "\r\n");
        foreach ($finding->consequences as $one) {
            self::write($file, $one, $finding->code->value);
        }
    }
}

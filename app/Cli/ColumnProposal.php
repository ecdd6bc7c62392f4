<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogSample;

/** `bin/pellix audit EVENTS --propose-map`: a mapping from the first 1,000 lines, with what it is sure of. */
final class ColumnProposal
{
    /**
     * @param resource $in
     * @param resource $out
     * @param resource $err
     *
     * @return int 0 fine
     *
     * @throws BadUsage
     */
    public static function write(CommandLine $line, $in, $out, $err): int
    {
        if (count($line->words) !== 1) {
            throw new BadUsage('Name one event log: a file, or - for standard input.');
        }
        $file = $line->words[0];
        $stream = $file === '-' ? $in : (is_file($file) ? fopen($file, 'r') : false);
        if ($stream === false) {
            throw new BadUsage("{$file}: this file cannot be read.");
        }
        try {
            $sample = LogSample::of($stream, LogFormat::isCsv($line));
        } catch (InvalidLog $e) {
            throw new BadUsage("line {$e->field}: {$e->getMessage()}");
        }
        if ($sample->rows === []) {
            throw new BadUsage("{$file}: this file has no lines that could be looked at.");
        }
        ['mapping' => $mapping, 'sure' => $sure] = $sample->guess();
        fwrite($out, json_encode([...$mapping, 'columns' => (object) ($mapping['columns'] ?? []), 'sure' => $sure], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n");
        $unsure = array_keys(array_filter($sure, static fn (bool $is): bool => ! $is));
        fwrite($err, $unsure === [] ? "audit: every column is told by its name; look it through, then use it as --map=FILE.\n" : 'audit: not sure of '.implode(', ', $unsure)."; look these through, then use it as --map=FILE.\n");

        return 0;
    }
}

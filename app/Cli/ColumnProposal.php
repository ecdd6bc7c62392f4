<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Events\ColumnGuess;
use Pellix\Core\Events\CsvRows;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\Lines;

/** `bin/pellix audit EVENTS --propose-map`: a mapping from the first 1,000 lines, with what it is sure of. */
final class ColumnProposal
{
    private const LINES = 1000;

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
        [$texts, $encoding] = self::lines($stream);
        [$rows, $separator] = self::rows($texts, LogFormat::isCsv($line));
        if ($rows === []) {
            throw new BadUsage("{$file}: this file has no lines that could be looked at.");
        }
        ['mapping' => $mapping, 'sure' => $sure] = ColumnGuess::of($rows, $separator, $encoding);
        fwrite($out, json_encode([...$mapping, 'columns' => (object) ($mapping['columns'] ?? []), 'sure' => $sure], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n");
        $unsure = array_keys(array_filter($sure, static fn (bool $is): bool => ! $is));
        fwrite($err, $unsure === [] ? "audit: every column is told by its name; look it through, then use it as --map=FILE.\n" : 'audit: not sure of '.implode(', ', $unsure)."; look these through, then use it as --map=FILE.\n");

        return 0;
    }

    /**
     * @param resource $stream
     *
     * @return array{list<string>, string|null} lines in UTF-8, and the encoding where it has to be said
     */
    private static function lines($stream): array
    {
        $texts = [];
        $isOther = false;
        /** @var \ArrayObject<int, string> $troubles */
        $troubles = new \ArrayObject();
        foreach (Lines::of($stream, static fn (int $line, string $why) => $troubles->append("line {$line}: {$why}")) as $text) {
            $isOther = $isOther || ! mb_check_encoding($text, 'UTF-8');
            $texts[] = $text;
            if (count($texts) > self::LINES) {
                break;
            }
        }
        if ($texts === [] && count($troubles) > 0) {
            throw new BadUsage((string) ($troubles[0] ?? ''));
        }

        return $isOther ? [array_map(static fn (string $text): string => (string) mb_convert_encoding($text, 'UTF-8', 'windows-1252'), $texts), 'windows-1252'] : [$texts, null];
    }

    /**
     * @param list<string> $texts
     *
     * @return array{list<array<mixed>>, string|null} rows by column, and what parts the cells
     */
    private static function rows(array $texts, ?bool $isCsv): array
    {
        $first = ltrim(implode('', array_slice(array_filter($texts, static fn (string $text): bool => trim($text) !== ''), 0, 1)));
        if (! ($isCsv ?? ! str_starts_with($first, '{'))) {
            return [array_values(array_filter(array_map(static fn (string $text): mixed => json_decode($text, true, 32), $texts), is_array(...))), null];
        }
        $rows = [];
        $header = $separator = null;
        foreach (CsvRows::of((static fn (): \Generator => yield from array_combine(range(1, max(1, count($texts))), $texts ?: ['']))(), true) as $number => $row) {
            if (! is_string($row)) {
                continue;
            }
            if ($header === null) {
                try {
                    [$separator, $header] = CsvRows::header($row, $number);
                } catch (InvalidLog $e) {
                    throw new BadUsage("line {$number}: {$e->getMessage()}");
                }
                continue;
            }
            $cells = LogReader::cells($row, (string) $separator);
            if (count($cells) === count($header)) {
                $rows[] = array_combine($header, $cells);
            }
        }

        return [$rows, $separator];
    }
}

<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\InvalidInput;

/** Files that are read line by line: a log, or a table of counts; `-` is standard input. */
final class InputFile
{
    /**
     * @param resource $in
     *
     * @return resource
     *
     * @throws BadUsage
     */
    public static function table(CommandLine $line, string $file, $in)
    {
        if ($line->words !== []) {
            throw new BadUsage('Of a table of counts no event log is read: name one or the other.');
        }
        $stream = $file === '-' ? $in : (is_file($file) ? @fopen($file, 'r') : false);

        return $stream === false ? throw new BadUsage("{$file}: this file cannot be read.") : $stream;
    }

    /** What is wrong with a table, whose field is the line and the column. */
    public static function complaint(string $file, InvalidInput $e): BadUsage
    {
        [$number, $column] = explode('.', $e->field, 2) + [1 => ''];

        return new BadUsage(is_numeric($number) ? "{$file}: line {$number}:".($column === '' ? '' : " column {$column}:")." {$e->getMessage()}" : "{$file}: {$e->getMessage()}");
    }

    /** @throws BadUsage */
    public static function name(CommandLine $line): string
    {
        return count($line->words) === 1 ? $line->words[0] : throw new BadUsage('Name one event log: a file, or - for standard input; or a table of counts: --counts=FILE.');
    }

    /**
     * @template T
     *
     * @param resource                                                      $in
     * @param callable(non-empty-list<iterable<int, mixed>>, string): T $read takes the pieces of the log, and its name
     *
     * @return T
     *
     * @throws BadUsage
     */
    public static function log(CommandLine $line, $in, callable $read): mixed
    {
        $file = self::name($line);
        $isCsv = LogFormat::isCsv($line);
        $columns = $line->value('map') === null ? null : JsonFile::read($line->value('map'), LogColumns::read(...));
        try {
            return $read($file === '-' ? [LogReader::rows($in, $isCsv, $columns, true)] : LogReader::pieces($file, $isCsv, LogReader::WORTH_TWO, $columns, true) ?? throw new BadUsage("{$file}: this file cannot be read."), $file);
        } catch (InvalidLog $e) {
            [$number] = explode('.', $e->field, 2);
            throw new BadUsage("{$file}: line {$number}: {$e->getMessage()} Where a log has other columns, say which is which: --map=FILE; --propose-map writes a proposal.");
        }
    }
}

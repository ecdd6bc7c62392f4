<?php

declare(strict_types=1);

namespace App\Cli;

/** Whether an event log is CSV: by `--format`, else by its name; else it is told by its first character. */
final class LogFormat
{
    /**
     * @return bool|null null for what the log looks like
     *
     * @throws BadUsage
     */
    public static function isCsv(CommandLine $line): ?bool
    {
        $name = strtolower((string) preg_replace('/\.gz\z/i', '', $line->words[0]));

        return match ($line->value('format')) {
            'csv' => true,
            'ndjson' => false,
            null => str_ends_with($name, '.csv') ? true : (str_ends_with($name, 'json') ? false : null),
            default => throw new BadUsage('--format takes ndjson or csv.'),
        };
    }
}

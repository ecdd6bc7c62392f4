<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\AuditLog;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\LogSample;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Formats\Fields;
use Pellix\Core\InvalidInput;

/** The beginning of a log that somebody brought: its columns, what they may mean, and what is read of it as things are. */
final class LogHead
{
    private const SHOWN_ROWS = 8;
    private const SHOWN_COLUMNS = 60;
    private const LONGEST_CELL = 120;
    private const TRIED = 5000;
    private const MOST_EXPERIMENTS = 20;
    private const MOSTLY = 0.8;
    private const REASONS = 5;

    /** @return array<string, mixed> */
    public static function of(AuditLog $log, LogPieces $pieces): array
    {
        if ($log->received === 0) {
            return ['columns' => [], 'rows' => [], 'proposal' => null, 'sure' => (object) [], 'trouble' => 'Nothing of it has arrived yet.', 'tried' => null];
        }
        try {
            $sample = LogSample::of($pieces->head($log), $pieces->isCsv($log));
        } catch (InvalidLog $e) {
            return ['columns' => [], 'rows' => [], 'proposal' => null, 'sure' => (object) [], 'trouble' => "Line {$e->field}: {$e->getMessage()}", 'tried' => null];
        }
        ['mapping' => $mapping, 'sure' => $sure] = $sample->rows === [] ? ['mapping' => null, 'sure' => []] : $sample->guess();
        $rows = self::telling(array_map(static fn (array $row): array => self::flat($row), $sample->rows));
        $columns = array_slice(array_values(array_unique(array_merge(...array_map(array_keys(...), $rows ?: [[]])))), 0, self::SHOWN_COLUMNS);

        return [
            'columns' => array_map(strval(...), $columns),
            'rows' => array_map(static fn (array $row): array => array_map(static fn (string|int $column): string => $row[$column] ?? '', $columns), $rows),
            'proposal' => $mapping === null ? null : [...$mapping, 'columns' => (object) $mapping['columns']], 'sure' => (object) $sure,
            'trouble' => $sample->rows === [] ? 'It has no lines that could be looked at.' : null,
            'tried' => self::tried($log, $pieces, $mapping),
        ];
    }

    /**
     * Those rows that together fill most columns, the first among them.
     *
     * @param list<array<string, string>> $rows
     *
     * @return list<array<string, string>>
     */
    private static function telling(array $rows): array
    {
        $seen = $telling = [];
        foreach ($rows as $i => $row) {
            $new = array_diff_key(array_filter($row, static fn (string $cell): bool => $cell !== ''), $seen);
            if ($new !== []) {
                $seen += $new;
                $telling[$i] = count($new);
            }
        }
        arsort($telling);
        $chosen = array_slice(array_keys($telling), 0, self::SHOWN_ROWS);
        foreach (array_keys($rows) as $i) {
            count($chosen) >= self::SHOWN_ROWS || in_array($i, $chosen, true) || $chosen[] = $i;
        }

        return array_map(static fn (int $i): array => $rows[$i], $chosen);
    }

    /**
     * @param array<mixed> $row
     *
     * @return array<string, string> path => text
     */
    private static function flat(array $row, string $under = ''): array
    {
        $flat = [];
        foreach ($row as $name => $cell) {
            $path = mb_strcut(mb_scrub($under === '' ? (string) $name : "{$under}.{$name}"), 0, self::LONGEST_CELL, 'UTF-8');
            if (is_array($cell) && substr_count($path, '.') < 3) {
                $flat += self::flat($cell, $path);
            } else {
                $flat[$path] = mb_strcut(mb_scrub(is_scalar($cell) ? (string) $cell : (string) json_encode($cell)), 0, self::LONGEST_CELL, 'UTF-8');
            }
        }

        return $flat;
    }

    /**
     * What the first lines give: with the mapping that it has; where it has none, without one, or with the one that was guessed, whichever gives more.
     *
     * @param array<string, mixed>|null $guessed
     *
     * @return array<string, mixed>
     */
    private static function tried(AuditLog $log, LogPieces $pieces, ?array $guessed): array
    {
        if ($log->mapping !== null) {
            return self::reading($log, $pieces, $log->mapping, 'mapping');
        }
        $plain = self::reading($log, $pieces, null, 'none');
        if ($guessed === null || ($plain['lines'] > 0 && $plain['events'] >= self::MOSTLY * $plain['lines'])) {
            return $plain;
        }
        $other = self::reading($log, $pieces, $guessed, 'guess');

        return $other['events'] > $plain['events'] ? $other : $plain;
    }

    /**
     * @param array<mixed>|null        $mapping
     * @param 'mapping'|'none'|'guess' $with
     *
     * @return array<string, mixed>
     */
    private static function reading(AuditLog $log, LogPieces $pieces, ?array $mapping, string $with): array
    {
        $read = $lines = 0;
        $names = $reasons = $experiments = [];
        try {
            $columns = $mapping === null ? null : LogColumns::read($mapping);
            foreach (LogReader::rows($pieces->head($log), $pieces->isCsv($log), $columns, true) as $number => $row) {
                if (++$lines > self::TRIED) {
                    break;
                }
                try {
                    $event = LogReader::event($number, $row instanceof InvalidLog ? throw $row : $row);
                } catch (InvalidLog $e) {
                    $reasons[] = ['line' => $number, 'reason' => $e->getMessage()];
                    continue;
                }
                $read++;
                $names[$event->name] = ($names[$event->name] ?? 0) + 1;
                if ($event->name === 'exposure') {
                    self::expose($experiments, $event->props['experiment'] ?? null, $event->props['variant'] ?? null);
                }
            }
        } catch (InvalidLog $e) {
            $reasons[] = ['line' => (int) $e->field, 'reason' => (is_numeric($e->field) || $e->field === '' ? '' : "{$e->field}: ").$e->getMessage()];
        }
        arsort($names);

        return [
            'with' => $with, 'lines' => min($lines, self::TRIED), 'events' => $read, 'names' => (object) array_slice($names, 0, 20),
            'experiments' => (object) array_map(static fn (array $variants): object => (object) $variants, $experiments), 'left_out' => array_slice($reasons, 0, self::REASONS),
        ];
    }

    /** @param array<string, array<string, int>> $experiments */
    private static function expose(array &$experiments, mixed $key, mixed $variant): void
    {
        if (! is_string($key) || ! is_scalar($variant) || (! isset($experiments[$key]) && count($experiments) >= self::MOST_EXPERIMENTS)) {
            return;
        }
        $variant = mb_strcut((string) $variant, 0, self::LONGEST_CELL, 'UTF-8');
        if (isset($experiments[$key][$variant]) || count($experiments[$key] ?? []) < self::MOST_EXPERIMENTS) {
            $experiments[$key][$variant] = ($experiments[$key][$variant] ?? 0) + 1;
        }
    }

    /**
     * @param array<mixed>|null $experiment the file
     * @param array<mixed>|null $mapping
     *
     * @throws ValidationException
     */
    public static function keep(AuditLog $log, ?array $experiment, ?array $mapping): void
    {
        foreach (['experiment' => static function () use ($experiment): void {
            if ($experiment === null) {
                return;
            }
            Experiment::read($experiment);
            Fields::within('audit', static fn (): Settings => Settings::read($experiment['audit'] ?? null), InvalidAudit::class);
        }, 'mapping' => static fn () => $mapping === null ? null : LogColumns::read($mapping)] as $field => $read) {
            try {
                $read();
            } catch (InvalidInput $e) {
                throw ValidationException::withMessages([$field => ($e->field === '' ? '' : "{$e->field}: ").$e->getMessage()]);
            }
        }
        $log->update(['experiment' => $experiment, 'mapping' => $mapping]);
    }
}

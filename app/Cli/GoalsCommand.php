<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Counting\LogGoals;
use Pellix\Core\Counting\LogTotals;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Sessions;

/** `bin/pellix goals EVENTS --goals=FILE [--session-minutes=30] [--format=ndjson|csv] [--explain=VISITOR] [--json]` */
final class GoalsCommand
{
    private const QUIET_SECONDS = 3;

    /**
     * @param list<string> $arguments
     * @param resource     $in
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 2 bad input
     */
    public static function run(array $arguments, $in, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['goals', 'session-minutes', 'format', 'explain'], ['json']);
            $goals = GoalFile::read($line->value('goals') ?? throw new BadUsage('Say which goals: --goals=FILE.'), 'goals', $err);
            $minutes = self::minutes($line);
            if (count($line->words) !== 1) {
                throw new BadUsage('Name one event log: a file, or - for standard input.');
            }
            $totals = self::count($line->words[0], LogFormat::isCsv($line), $goals, $minutes, $line->value('explain'), $in, $err);
        } catch (BadUsage $e) {
            fwrite($err, "goals: {$e->getMessage()}\n");

            return 2;
        }
        if ($line->value('explain') !== null) {
            fwrite($out, implode("\n", $totals->explained ?: ["The log has no event of the visitor \"{$line->value('explain')}\"."])."\n");

            return 0;
        }
        foreach ($line->has('json') ? [] : $totals->warnings() as $warning) {
            fwrite($err, "goals: {$warning}\n");
        }
        fwrite($out, $line->has('json') ? self::json($line->words[0], $totals) : self::words($totals->goals()));

        return 0;
    }

    /**
     * @param list<Goal> $goals
     * @param resource   $in
     * @param resource   $err
     */
    private static function count(string $file, ?bool $isCsv, array $goals, int $minutes, ?string $explain, $in, $err): LogTotals
    {
        $pieces = $file === '-' ? [LogReader::rows($in, $isCsv)] : LogReader::pieces($file, $isCsv, LogReader::WORTH_TWO) ?? throw new BadUsage("{$file}: this file cannot be read.");
        $told = time() + self::QUIET_SECONDS;
        $progress = static function (int $events) use (&$told, $err): void {
            if (time() >= $told) {
                fwrite($err, 'goals: '.number_format($events)." events read\n");
                $told = time() + self::QUIET_SECONDS;
            }
        };
        try {
            return LogGoals::count($pieces, $goals, $minutes, $progress, $explain);
        } catch (InvalidLog $e) {
            [$number, $field] = explode('.', $e->field, 2) + [1 => ''];
            throw new BadUsage("{$file}: line {$number}:".($field === '' ? '' : " field {$field}:")." {$e->getMessage()}");
        }
    }

    private static function minutes(CommandLine $line): int
    {
        $minutes = filter_var($line->value('session-minutes') ?? Sessions::DEFAULT_MINUTES, FILTER_VALIDATE_INT, ['options' => ['min_range' => 1, 'max_range' => 1440]]);

        return $minutes === false ? throw new BadUsage('--session-minutes takes a whole number from 1 to 1440.') : $minutes;
    }

    private static function json(string $file, LogTotals $totals): string
    {
        $open = static fn (array $one): array => [...$one, 'values' => (object) $one['values']];
        $goals = array_map(static fn (array $one): array => [...$open($one), 'variants' => array_map($open, $one['variants'])], $totals->goals());

        return json_encode([
            'source' => $file, 'events' => $totals->events, 'repeated' => $totals->repeated, 'visitors' => $totals->visitors, 'goals' => $goals, 'warnings' => $totals->warnings(),
        ], JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE)."\n";
    }

    /** @param list<array<string, mixed>> $totals */
    private static function words(array $totals): string
    {
        $lines = sprintf("%-40s %8s %8s %8s  %s\n", 'goal', 'hits', 'visitors', 'sessions', 'value');
        foreach ($totals as $one) {
            foreach ([['of' => $one['key'], ...$one], ...array_map(static fn (array $variant): array => ['of' => "  {$variant['experiment']} {$variant['variant']}, {$variant['exposed']} exposed", ...$variant], $one['variants'])] as $row) {
                $values = [];
                foreach ($row['values'] as $currency => $sum) {
                    $values[] = trim(sprintf('%.2f %s', $sum, $currency));
                }
                $lines .= sprintf("%-40s %8d %8d %8d  %s\n", $row['of'], $row['hits'], $row['visitors'], $row['sessions'], implode(', ', $values) ?: '-');
            }
        }

        return $lines;
    }
}

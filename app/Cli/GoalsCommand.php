<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\HitFinder;
use Pellix\Core\Goals\InvalidGoal;
use Pellix\Core\Goals\Sessions;
use Pellix\Core\Goals\Totals;

/** `bin/pellix goals EVENTS --goals=FILE [--session-minutes=30] [--json]` */
final class GoalsCommand
{
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
            $line = CommandLine::parse($arguments, ['goals', 'session-minutes'], ['json']);
            $goals = self::goals($line);
            $minutes = self::minutes($line);
            if (count($line->words) !== 1) {
                throw new BadUsage('Name one event log: a file, or - for standard input.');
            }
            [$visitors, $read, $repeated] = self::visitors($line->words[0], $goals, $in);
        } catch (BadUsage $e) {
            fwrite($err, "goals: {$e->getMessage()}\n");

            return 2;
        }
        $hits = array_fill_keys(array_map(static fn (Goal $goal): string => $goal->key, $goals), []);
        foreach ($visitors as $events) {
            $events = LogEvent::inOrder($events);
            $sessions = Sessions::of($events, $minutes);
            foreach ($goals as $goal) {
                array_push($hits[$goal->key], ...HitFinder::find($goal, $events, $sessions));
            }
        }
        $totals = array_map(static fn (Goal $goal): array => ['key' => $goal->key, ...Totals::of($goal, $hits[$goal->key])], $goals);
        fwrite($out, $line->has('json') ? self::json($line->words[0], $read, $repeated, count($visitors), $totals) : self::words($totals));

        return 0;
    }

    /** @return list<Goal> */
    private static function goals(CommandLine $line): array
    {
        $file = $line->value('goals') ?? throw new BadUsage('Say which goals: --goals=FILE.');

        return JsonFile::read($file, static function (mixed $json): array {
            // A bare list of goals, or any object that has one: a file of goals, an experiment file.
            $isList = is_array($json) && array_is_list($json);
            $list = $isList ? $json : (new Fields($json, InvalidGoal::class, 'A file of goals'))->list('goals');
            if ($list === []) {
                throw new InvalidGoal('At least one goal is needed.', 'goals');
            }
            $goals = [];
            foreach ($list as $i => $goal) {
                $read = Fields::within($isList ? (string) $i : "goals.{$i}", static fn (): Goal => Goal::read($goal), InvalidGoal::class);
                if (isset($goals[$read->key])) {
                    throw new InvalidGoal("The key \"{$read->key}\" is taken by an earlier goal.", ($isList ? '' : 'goals.')."{$i}.key");
                }
                $goals[$read->key] = $read;
            }

            return array_values($goals);
        });
    }

    private static function minutes(CommandLine $line): int
    {
        $minutes = filter_var($line->value('session-minutes') ?? Sessions::DEFAULT_MINUTES, FILTER_VALIDATE_INT, ['options' => ['min_range' => 1, 'max_range' => 1440]]);

        return $minutes === false ? throw new BadUsage('--session-minutes takes a whole number from 1 to 1440.') : $minutes;
    }

    /**
     * @param list<Goal> $goals
     * @param resource   $in
     *
     * @return array{array<string, list<LogEvent>>, int, int} events by visitor, events read, events whose id came again
     */
    private static function visitors(string $file, array $goals, $in): array
    {
        $stream = $file === '-' ? $in : (is_file($file) && is_readable($file) ? fopen($file, 'r') : false);
        if ($stream === false) {
            throw new BadUsage("{$file}: this file cannot be read.");
        }
        $wanted = array_flip(array_merge(...array_map(static fn (Goal $goal): array => $goal->events(), $goals)));
        $visitors = $ids = [];
        $read = 0;
        try {
            foreach (LogReader::read($stream, str_ends_with(strtolower($file), '.csv')) as $event) {
                $read++;
                if (isset($ids[$event->id])) {
                    continue;
                }
                $ids[$event->id] = true;
                // Of an event that no goal looks at, only the moment matters: it keeps the session going.
                $visitors[$event->visitor][] = isset($wanted[$event->name]) ? $event : new LogEvent($event->id, $event->visitor, $event->time, $event->name, '');
            }
        } catch (InvalidLog $e) {
            [$number, $field] = explode('.', $e->field, 2) + [1 => ''];
            throw new BadUsage("{$file}: line {$number}:".($field === '' ? '' : " field {$field}:")." {$e->getMessage()}");
        }

        return [$visitors, $read, $read - count($ids)];
    }

    /** @param list<array<string, mixed>> $totals */
    private static function json(string $file, int $read, int $repeated, int $visitors, array $totals): string
    {
        $goals = array_map(static fn (array $one): array => [...$one, 'values' => (object) $one['values']], $totals);

        return json_encode(['source' => $file, 'events' => $read, 'repeated' => $repeated, 'visitors' => $visitors, 'goals' => $goals], JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n";
    }

    /** @param list<array<string, mixed>> $totals */
    private static function words(array $totals): string
    {
        $lines = sprintf("%-32s %8s %8s %8s  %s\n", 'goal', 'hits', 'visitors', 'sessions', 'value');
        foreach ($totals as $one) {
            $values = [];
            foreach ($one['values'] as $currency => $sum) {
                $values[] = trim(sprintf('%.2f %s', $sum, $currency));
            }
            $lines .= sprintf("%-32s %8d %8d %8d  %s\n", $one['key'], $one['hits'], $one['visitors'], $one['sessions'], implode(', ', $values) ?: '-');
        }

        return $lines;
    }
}

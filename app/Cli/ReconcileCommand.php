<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Reconcile\InvalidOther;
use Pellix\Core\Reconcile\Other;
use Pellix\Core\Reconcile\OtherColumns;
use Pellix\Core\Reconcile\Ours;
use Pellix\Core\Reconcile\Reconciliation;

/** `bin/pellix reconcile EVENTS OTHER.csv --experiment=FILE [--map=FILE] [--log-map=FILE] [--goal=KEY] [--tolerance=0.05] [--window=600] [--format=ndjson|csv] [--json]`. */
final class ReconcileCommand
{
    private const LONGEST_WINDOW = 86_400;

    private const SHOWN = 10;

    /**
     * @param list<string> $arguments
     * @param resource     $in
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 they agree, 1 they do not, 2 bad input
     */
    public static function run(array $arguments, $in, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['experiment', 'map', 'log-map', 'goal', 'tolerance', 'window', 'format'], ['json']);
            $reconciled = self::reconcile($line, $in, $err);
        } catch (BadUsage $e) {
            fwrite($err, "reconcile: {$e->getMessage()}\n");

            return 2;
        }
        $all = $reconciled->toArray();
        fwrite($out, $line->has('json') ? json_encode($all, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE)."\n" : self::text($all));

        return $reconciled->verdict() === 'agree' ? 0 : 1;
    }

    /**
     * @param resource $in
     * @param resource $err
     *
     * @throws BadUsage
     */
    private static function reconcile(CommandLine $line, $in, $err): Reconciliation
    {
        if (count($line->words) !== 2) {
            throw new BadUsage('Name an event log and a file of the other source: reconcile EVENTS OTHER.csv --experiment=FILE; one of them may be - for standard input.');
        }
        [$log, $file] = $line->words;
        if ($log === '-' && $file === '-') {
            throw new BadUsage('Only one of the two files can be standard input.');
        }
        $tolerance = $line->value('tolerance') === null ? Reconciliation::TOLERANCE : Number::of($line->value('tolerance'), '--tolerance');
        $window = $line->value('window') === null ? Reconciliation::WINDOW : Number::of($line->value('window'), '--window');
        if ($tolerance < 0 || $tolerance >= 1) {
            throw new BadUsage('--tolerance takes a part from 0 to less than 1, such as 0.05 for 5 %.');
        }
        if ($window < 0 || $window > self::LONGEST_WINDOW || (float) $window !== floor((float) $window)) {
            throw new BadUsage('--window takes whole seconds, from 0 to '.self::LONGEST_WINDOW.'.');
        }
        $setup = ExperimentFile::setup($line->value('experiment') ?? throw new BadUsage('Say which experiment: --experiment=FILE.'));
        $zone = $setup->settings->zone->getName();
        $columns = $line->value('map') === null ? OtherColumns::ours($zone) : JsonFile::read($line->value('map'), static fn (mixed $json): OtherColumns => OtherColumns::read($json, $zone));
        $goal = $line->value('goal');
        $place = $goal === null ? null : self::goal($goal, $setup);
        $other = self::other($file, $columns, $setup, $in);
        if ($place !== null && $other->kind === 'orders') {
            throw new BadUsage('--goal is for a table of days: day, variant and hits. This file has orders.');
        }

        return Reconciliation::of(self::ours($log, $line, $setup, $place, $in, $err), $other, $setup, $tolerance, (int) $window, $goal);
    }

    /** @throws BadUsage */
    private static function goal(string $key, Setup $setup): int
    {
        $place = array_search($key, array_map(static fn ($goal): string => $goal->key, $setup->goals), true);

        return $place === false ? throw new BadUsage("--goal: the experiment has no goal \"{$key}\"; it has ".(implode(', ', array_map(static fn ($goal): string => $goal->key, $setup->goals)) ?: 'none').'.') : (int) $place;
    }

    /**
     * @param resource $in
     *
     * @throws BadUsage
     */
    private static function other(string $file, OtherColumns $columns, Setup $setup, $in): Other
    {
        $stream = $file === '-' ? $in : (is_file($file) && is_readable($file) ? fopen($file, 'r') : false);
        if ($stream === false) {
            throw new BadUsage("{$file}: this file cannot be read.");
        }
        try {
            return Other::of($stream, $columns, $setup->variants);
        } catch (InvalidOther $e) {
            throw new BadUsage("{$file}: ".($e->field === '' ? '' : "line {$e->field}: ").$e->getMessage());
        }
    }

    /**
     * @param resource $in
     * @param resource $err
     *
     * @throws BadUsage
     */
    private static function ours(string $log, CommandLine $line, Setup $setup, ?int $goal, $in, $err): Ours
    {
        $isCsv = LogFormat::isCsv($line);
        $columns = $line->value('log-map') === null ? null : JsonFile::read($line->value('log-map'), \Pellix\Core\Events\LogColumns::read(...));
        try {
            $pieces = $log === '-' ? [LogReader::rows($in, $isCsv, $columns, true)] : LogReader::pieces($log, $isCsv, LogReader::WORTH_TWO, $columns, true) ?? throw new BadUsage("{$log}: this file cannot be read.");

            $ours = Ours::of($pieces, $setup, LogProgress::of('reconcile', $log, $err), $goal);
        } catch (InvalidLog $e) {
            [$number] = explode('.', $e->field, 2);
            throw new BadUsage("{$log}: line {$number}: {$e->getMessage()} Where a log has other columns, say which is which: --log-map=FILE.");
        }
        $ours->skipped->lines === 0 || fwrite($err, "reconcile: {$ours->skipped->lines} of {$ours->lines} lines of {$log} could not be read and were left out.\n");

        return $ours;
    }

    /** @param array<string, mixed> $all */
    private static function text(array $all): string
    {
        $text = mb_strtoupper($all['verdict'])."\n".AuditText::wrapped($all['sentence'], '');
        if ($all['counted'] !== null) {
            $text .= "Counted here: {$all['counted']}.\n";
        }
        $percent = static fn (?float $part): string => $part === null ? '–' : sprintf('%+.1f %%', 100 * $part);
        foreach ([...$all['totals'], ...array_slice(array_values(array_filter($all['days'], static fn (array $day): bool => ! $day['within'])), 0, self::SHOWN)] as $row) {
            $text .= AuditText::wrapped(trim(($row['day'] ?? 'all days').' '.($row['variant'] ?? '')).": {$row['ours']} here, {$row['theirs']} there, {$percent($row['difference'])} ({$percent($row['low'])} to {$percent($row['high'])})".(($row['partial'] ?? false) ? ', a day that the log covers in part' : ''), '  ');
        }
        foreach ($all['orders'] === null ? [] : ['missing' => 'Missing here', 'surplus' => 'Missing there', 'value_differs' => 'Another value', 'currency_differs' => 'Another currency', 'time_differs' => 'Another time', 'doubled' => 'Told more than once'] as $name => $title) {
            $list = $all['orders'][$name];
            $text .= $list === [] ? '' : "{$title} ({$all['orders']['counts'][$name]}):\n";
            foreach (array_slice($list, 0, self::SHOWN) as $one) {
                $text .= AuditText::wrapped(implode(' ', array_map(static fn (string $key, mixed $cell): string => $key === 'ours' ? "{$cell} here," : ($key === 'theirs' ? "{$cell} there" : (string) $cell), array_keys($one), $one)), '  ');
            }
            $text .= count($list) > self::SHOWN ? "  … all of them with --json\n" : '';
        }
        foreach ($all['orders']['concentrated'] ?? [] as $name => $places) {
            foreach ($places as $one) {
                $text .= AuditText::wrapped(($name === 'missing' ? 'Missing here' : 'Missing there')." above all at {$one['dimension']} {$one['value']}: {$one['missing']} of {$one['all']}", '');
            }
        }

        return $text;
    }
}

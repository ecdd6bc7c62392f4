<?php

declare(strict_types=1);

namespace App\Cli;

use App\ReadoutReport\ReadoutPage;
use App\ReadoutReport\ReadoutTable;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Readout\Details;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\InvalidReadout;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Reading\Counts;
use Pellix\Core\Readout\Reading\LogReadout;
use Pellix\Core\Readout\Readout;
use Pellix\Core\Readout\Subject;

/**
 * `bin/pellix readout EVENTS --experiment=FILE [--goals=FILE] [--map=FILE] [--at=TIME] [--anytime] [--level=0.95] [--reason=TEXT] [--no-exclusions]
 * [--format=ndjson|csv] [--json] [--csv=FILE] [--html=FILE]`, and `bin/pellix readout --counts=FILE [--weights=50,50]`.
 */
final class ReadoutCommand
{
    /**
     * @param list<string> $arguments
     * @param resource     $in
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 1 something blocks, 2 bad input
     */
    public static function run(array $arguments, $in, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['experiment', 'goals', 'map', 'at', 'level', 'reason', 'format', 'html', 'csv', 'counts', 'weights'], ['json', 'anytime', 'no-exclusions']);
            $report = $line->value('counts') === null ? self::log($line, $in, $err) : self::counts($line->value('counts'), $line, $in);
            foreach (['html' => ReadoutPage::of(...), 'csv' => ReadoutTable::of(...)] as $option => $writer) {
                $file = $line->value($option);
                if ($file !== null && @file_put_contents($file, $writer($report)) === false) {
                    throw new BadUsage("{$file}: this file cannot be written.");
                }
            }
        } catch (BadUsage $e) {
            fwrite($err, "readout: {$e->getMessage()}\n");

            return 2;
        }
        if ($line->has('json')) {
            fwrite($out, json_encode($report, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION)."\n");
        } elseif ($line->value('html') === null && $line->value('csv') === null) {
            fwrite($out, ReadoutText::of($report));
        } else {
            fwrite($out, "{$report['sentence']}\n");
        }

        return $report['gate']['open'] ? 0 : 1;
    }

    /**
     * @param resource $in
     *
     * @return array<string, mixed>
     *
     * @throws BadUsage
     */
    private static function counts(string $file, CommandLine $line, $in): array
    {
        foreach (['experiment', 'goals', 'map', 'at'] as $option) {
            if ($line->value($option) !== null) {
                throw new BadUsage("A table of counts has no --{$option}: that is for an event log.");
            }
        }
        try {
            return Counts::of(InputFile::table($line, $file, $in), Look::ofTable(self::level($line), $line->has('anytime')), Weights::of($line), $line->value('reason'))->toArray();
        } catch (InvalidReadout $e) {
            throw InputFile::complaint($file, $e);
        }
    }

    /**
     * @param resource $in
     * @param resource $err
     *
     * @return array<string, mixed>
     *
     * @throws BadUsage
     */
    private static function log(CommandLine $line, $in, $err): array
    {
        if ($line->value('weights') !== null) {
            throw new BadUsage('Weights stand in the experiment file; --weights is for a table of counts.');
        }
        InputFile::name($line);
        $file = $line->value('experiment') ?? throw new BadUsage('Say which experiment: --experiment=FILE.');
        [$experiment, $settings] = ExperimentFile::read($file);
        $goals = $line->value('goals') === null ? null : GoalFile::read($line->value('goals'), 'readout', $err);
        $at = $line->value('at') === null ? null : Moment::parse($line->value('at')) ?? throw new BadUsage('--at takes a time in RFC 3339, such as 2026-03-30T00:00:00Z.');
        try {
            $subject = new Subject($experiment, $goals);
            $setup = new Setup($experiment, $goals, null, $line->has('no-exclusions') ? $settings->whole() : $settings, until: $at === null ? null : 1000 * $at->getTimestamp() + (int) $at->format('v'), readsVisits: true);
            // What is wrong on the command line is told before a long log is read.
            $level = self::level($line);
            Gate::of([], $line->value('reason'));
            Look::ofTable($level);
        } catch (InvalidAudit|InvalidReadout $e) {
            throw new BadUsage("{$file}: field {$e->field}: {$e->getMessage()}");
        }

        return InputFile::log($line, $in, static function (array $pieces, string $name) use ($setup, $subject, $line, $err, $at, $level): array {
            [$evidence, $table] = LogReadout::of($pieces, $setup, $subject, LogProgress::of('readout', $name, $err));
            // Whether the planned end has come hangs on when one looks, not on how far the log goes.
            $moment = $at ?? new \DateTimeImmutable();
            $look = Look::at($setup->experiment, $moment, $setup->settings->zone, $level, $line->has('anytime'));
            $readout = Readout::of($subject, $table, $look, Gate::ofAudit(Report::of($evidence), $line->value('reason')));

            return [...$readout->gate->before([...$readout->figures(), ...Details::of($readout)]), 'at' => Moment::format($moment)];
        });
    }

    /** @throws BadUsage */
    private static function level(CommandLine $line): float
    {
        return $line->value('level') === null ? Look::LEVEL : Number::of($line->value('level'), '--level');
    }
}

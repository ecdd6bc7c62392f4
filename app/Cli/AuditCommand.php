<?php

declare(strict_types=1);

namespace App\Cli;

use App\AuditReport\AuditPage;
use App\AuditReport\AuditTable;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Reading\CountTable;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Views\Views;
use Pellix\Core\Events\InvalidPlan;
use Pellix\Core\Events\PlanText;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Statistics\SampleRatio;

/**
 * `bin/pellix audit EVENTS --experiment=FILE [--goals=FILE] [--plan=FILE] [--map=FILE | --propose-map] [--until=TIME] [--no-exclusions] [--alpha=0.001]
 * [--format=ndjson|csv] [--json] [--html=FILE] [--csv=FILE]`, and `bin/pellix audit --counts=FILE [--weights=50,50]`.
 */
final class AuditCommand
{
    /**
     * @param list<string> $arguments
     * @param resource     $in
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 1 a blocker was found, 2 bad input
     */
    public static function run(array $arguments, $in, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, ['experiment', 'goals', 'plan', 'map', 'until', 'alpha', 'format', 'html', 'csv', 'counts', 'weights'], ['json', 'propose-map', 'no-exclusions']);
            if ($line->has('propose-map')) {
                return ColumnProposal::write($line, $in, $out, $err);
            }
            $evidence = $line->value('counts') === null ? self::log($line, $in, $err) : self::counts($line->value('counts'), $line, $in);
            $report = Report::of($evidence);
            foreach (['html' => self::page(...), 'csv' => static fn (Report $report): string => AuditTable::of($report->toArray())] as $option => $writer) {
                $file = $line->value($option);
                if ($file !== null && @file_put_contents($file, $writer($report)) === false) {
                    throw new BadUsage("{$file}: this file cannot be written.");
                }
            }
        } catch (BadUsage $e) {
            fwrite($err, "audit: {$e->getMessage()}\n");

            return 2;
        }
        if ($line->has('json')) {
            fwrite($out, json_encode($report->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION)."\n");
        } elseif ($line->value('html') === null && $line->value('csv') === null) {
            fwrite($out, AuditText::of($report));
        } else {
            fwrite($out, "{$report->verdict()}: {$report->sentence()}\n");
        }

        return $report->isBlocked() ? 1 : 0;
    }

    private static function page(Report $report): string
    {
        return AuditPage::of($report->toArray(), Views::of($report->evidence, Part::of(null, null)), $report->evidence->setup->settings->zone->getName());
    }

    /**
     * @param resource $in
     *
     * @throws BadUsage
     */
    private static function counts(string $file, CommandLine $line, $in): Evidence
    {
        try {
            return CountTable::of(InputFile::table($line, $file, $in), Weights::of($line), self::alpha($line));
        } catch (InvalidAudit $e) {
            throw InputFile::complaint($file, $e);
        }
    }

    /**
     * @param resource $in
     * @param resource $err
     *
     * @throws BadUsage
     */
    private static function log(CommandLine $line, $in, $err): Evidence
    {
        InputFile::name($line);
        $setup = self::setup($line, $err);

        return InputFile::log($line, $in, static fn (array $pieces, string $file): Evidence => LogAudit::of($pieces, $setup, LogProgress::of('audit', $file, $err)));
    }

    /**
     * @param resource $err
     *
     * @throws BadUsage
     */
    private static function setup(CommandLine $line, $err): Setup
    {
        $file = $line->value('experiment') ?? throw new BadUsage('Say which experiment: --experiment=FILE.');
        [$experiment, $settings] = ExperimentFile::read($file);
        $goals = $line->value('goals') === null ? null : GoalFile::read($line->value('goals'), 'audit', $err);
        $until = $line->value('until') === null ? null : Moment::parse($line->value('until')) ?? throw new BadUsage('--until takes a time in RFC 3339, such as 2026-03-30T00:00:00Z.');

        try {
            return new Setup($experiment, $goals, self::plan($line->value('plan')), $line->has('no-exclusions') ? $settings->whole() : $settings, self::alpha($line), $until === null ? null : 1000 * $until->getTimestamp() + (int) $until->format('v'));
        } catch (InvalidAudit $e) {
            throw new BadUsage("{$file}: field {$e->field}: {$e->getMessage()}");
        }
    }

    /** @throws BadUsage */
    private static function plan(?string $file): ?TrackingPlan
    {
        if ($file === null) {
            return null;
        }
        try {
            $schemas = [];
            foreach (PlanText::read(JsonFile::text($file)) as $event) {
                $schemas[$event->name] = $event->schema;
            }

            return TrackingPlan::of($schemas);
        } catch (InvalidPlan $e) {
            throw new BadUsage("{$file}: ".($e->field === '' ? '' : "field {$e->field}: ").$e->getMessage());
        }
    }

    /** @throws BadUsage */
    private static function alpha(CommandLine $line): float
    {
        $alpha = $line->value('alpha') === null ? SampleRatio::ALPHA : Number::of($line->value('alpha'), '--alpha');

        return $alpha > 0 && $alpha < 0.5 ? $alpha : throw new BadUsage('--alpha takes a number between 0 and 0.5.');
    }
}

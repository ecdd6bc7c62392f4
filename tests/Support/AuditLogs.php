<?php

declare(strict_types=1);

namespace Tests\Support;

use Demo\Logs\Fault;
use Demo\Logs\LogMaker;
use Demo\Logs\Settings;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Settings as AuditSettings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Experiments\Experiment;

/** Logs of invented visitors, and what an audit says of them. */
final class AuditLogs
{
    /** @param list<string> $faults */
    public static function settings(array $faults = [], int $visitors = 6000, int $days = 28, array $epochs = [[50, 50]], int $seed = 41): Settings
    {
        return new Settings($visitors, $days, $seed, $epochs[0], $epochs, array_map(Fault::parse(...), $faults));
    }

    /** @return list<string> NDJSON, a line an event */
    public static function lines(Settings $settings): array
    {
        $lines = [];
        foreach ((new LogMaker($settings))->events() as $event) {
            $lines[] = LogMaker::line($event);
        }

        return $lines;
    }

    /** @param array<string, mixed> $experiment file, with its member `audit` */
    public static function setup(array $experiment, ?TrackingPlan $plan = null, ?int $until = null): Setup
    {
        return new Setup(Experiment::read($experiment), null, $plan, AuditSettings::read($experiment['audit'] ?? null), until: $until);
    }

    /** What is said of a text that stands in a file. */
    public static function audit(string $text, Setup $setup, ?bool $csv = null, ?LogColumns $columns = null, int $two = PHP_INT_MAX): Report
    {
        $file = tempnam(sys_get_temp_dir(), 'audit');
        file_put_contents($file, $text);
        try {
            return Report::of(LogAudit::of(LogReader::pieces($file, $csv, $two, $columns, true) ?? [], $setup, static fn (int $lines) => null));
        } finally {
            unlink($file);
        }
    }

    /** @param list<string> $faults */
    public static function faulty(array $faults, int $visitors = 6000, int $seed = 41, ?TrackingPlan $plan = null): Report
    {
        $settings = self::settings($faults, $visitors, seed: $seed);

        return self::audit(implode("\n", self::lines($settings)), self::setup($settings->experiment(), $plan, $settings->end()));
    }
}

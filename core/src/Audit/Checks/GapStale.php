<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Statistics\NegativeBinomial;
use Pellix\Core\Wiring\Findings\Severity;

/** Nothing has arrived since a moment, up to that of the audit. */
final class GapStale implements Check
{
    private const UNLIKELY = 1e-6;

    public function code(): AuditCode
    {
        return AuditCode::GapStale;
    }

    public function look(Evidence $evidence): array
    {
        $until = $evidence->setup->until ?? throw new NotRun('Nobody has said up to when events should have arrived (--until=TIME).');
        $rhythm = $evidence->gaps->rhythm() ?? throw new NotRun('The log is too short to know its rhythm.');
        $volume = $evidence->tally->volume;
        $last = $volume->last;
        $end = min($until, $last + 400 * 86_400_000);
        $expected = 0.0;
        for ($hour = intdiv($last, 3_600_000); $hour * 3_600_000 < $end; $hour++) {
            $part = (min($end, 3_600_000 * ($hour + 1)) - max($last, 3_600_000 * $hour)) / 3_600_000;
            $expected += $part * $rhythm->at($hour);
        }
        $logP = NegativeBinomial::logAtMost(0, $expected * max(0.4, 1 - 2 * $rhythm->days) / $volume->each(''), max(1.5, $rhythm->dispersion / $volume->clumping('')));
        if ($logP >= log(self::UNLIKELY)) {
            return [];
        }
        $silent = ($until - $last) / 1000;

        return [new Finding(
            AuditCode::GapStale,
            Severity::Warning,
            'Nothing has arrived for '.Told::duration($silent).": the last event is of {$evidence->setup->settings->told($last)}, and about ".Told::count((int) round($expected), 'event').' were to be expected since ('.Told::p($logP).').',
            since: $last,
            numbers: ['last' => Finding::time($last), 'expected' => round($expected, 1), 'silent_hours' => round($silent / 3600, 1), 'log_p' => $logP],
            causes: ['The collector or the export has stopped.', 'The snippet was taken off the site.'],
            next: ['See whether events arrive at this moment, and inspect the pages.'],
            weight: 0.5,
        )];
    }
}

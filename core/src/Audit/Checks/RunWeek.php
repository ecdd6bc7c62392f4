<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Run;
use Pellix\Core\Wiring\Findings\Severity;

/** A run that ended within a week: some weekdays weigh more than others. */
final class RunWeek implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::RunWeek;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $evidence->needTimes();
        $run = Run::of($evidence);
        if ($run->isUnderWay) {
            throw new NotRun('It has not ended, as far as the experiment file and the log tell.');
        }
        $over = fmod($run->days, 7.0);
        // Four weeks and more: a few days make little of them (common practice, no source).
        if (min($over, 7 - $over) < 0.75 || $run->days > 28) {
            return [];
        }

        return [new Finding(
            AuditCode::RunWeek,
            Severity::Note,
            'It ran for '.number_format($run->days, 1).' days, which are no whole weeks: some weekdays weigh more than others.',
            numbers: ['days' => round($run->days, 2)],
            causes: ['It was ended within a week.'],
            next: ['Compare with whole weeks alone.'],
            weight: 0.01,
        )];
    }
}

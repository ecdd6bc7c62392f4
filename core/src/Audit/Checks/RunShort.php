<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Shapes\Run;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** A run that is shorter than a week, or ended before the time that was planned. */
final class RunShort implements Check
{
    /** Common practice, no source: whoever comes on Sundays has to be among the visitors. */
    private const LEAST_DAYS = 7;

    public function code(): AuditCode
    {
        return AuditCode::RunShort;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $evidence->needTimes();
        $run = Run::of($evidence);
        $planned = $evidence->setup->experiment->plannedDays;
        $isOver = $run->isOver;
        $wanted = max(self::LEAST_DAYS, $isOver ? (int) $planned : 0);
        // Half a day is what rounding and time zones do.
        if ($run->days > $wanted - 0.5) {
            return [];
        }

        return [new Finding(
            AuditCode::RunShort,
            $isOver ? Severity::Warning : Severity::Note,
            'It ran for '.Told::duration(86_400 * $run->days).($wanted > self::LEAST_DAYS ? " of the {$planned} days that were planned" : ', less than a week').': whoever comes on other days is not among the visitors'.($isOver ? '.' : ' yet.'),
            numbers: ['days' => round($run->days, 2), 'wanted' => $wanted, 'ended' => $isOver],
            causes: ['It was ended early, or the log holds a part of the run only.'],
            next: [$isOver ? 'Decide on whole weeks; where the log holds a part only, export all of it.' : 'Let it run on.'],
            weight: 0.1,
        )];
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** The same question for whoever looks every day: an anytime-valid test does not get more alarms by more looks. */
final class SrmSequential implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::SrmSequential;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $evidence->needTimes();
        if ($evidence->ratio->joined() === null) {
            throw new NotRun('No epoch has two variants that take anybody in.');
        }
        $test = $evidence->ratio->sequential();
        if ($test['crossed'] === null) {
            return [];
        }
        $fault = $evidence->ratio->fault();
        $variant = $fault === null ? null : $evidence->setup->variants[$fault->variant];
        $where = $fault !== null && $fault->keys === [] ? $fault : null;

        return [new Finding(
            AuditCode::SrmSequential,
            Severity::Blocker,
            "Whoever had looked every day would have known on {$test['crossed']}: the split left what was promised (anytime-valid ".Told::p(log(max($test['p'], 1e-300))).').',
            $variant,
            since: $where?->since,
            until: $where?->until,
            numbers: ['log_bayes_factor' => is_finite($test['log']) ? $test['log'] : null, 'p' => $test['p'], 'crossed' => $test['crossed'], 'prior' => $test['prior']],
            causes: ['As of the sample ratio mismatch.'],
            next: ['Look for what was published or changed before that day.'],
            weight: $fault === null ? 0.0 : abs($fault->part),
        )];
    }
}

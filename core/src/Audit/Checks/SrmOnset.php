<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\RatioBreak;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Since when the split is off: the change point of the hourly split. */
final class SrmOnset implements Check
{
    private const FEWEST = 200;

    public function code(): AuditCode
    {
        return AuditCode::SrmOnset;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed(self::FEWEST);
        $evidence->needTimes();
        $setup = $evidence->setup;
        $fault = $evidence->ratio->fault();
        $isLocal = $fault !== null && $fault->keys !== [];
        $break = RatioBreak::of($evidence->tally->split->exposed, '', $setup) ?? throw new NotRun('All visitors came within one hour.');
        [$since, $until] = $isLocal ? [$fault->since, $fault->until] : [$break->since, $break->until];
        if (($since === null && $until === null) || (! $evidence->ratio->isOff() && $break->logP >= log($setup->alpha))) {
            return [];
        }
        // Of one segment alone, its own.
        $own = $isLocal && count($fault->keys) === 1 ? RatioBreak::of($evidence->tally->split->exposed, $fault->keys[0], $setup, Cohorts::STEP) : null;
        $logP = ($own ?? $break)->logP;
        $missing = $isLocal ? $fault->missing : (int) round(max([0.0, ...RatioFault::missing($break->observed, $break->expected)]));
        $variant = $fault === null ? null : $setup->variants[$fault->variant];
        $where = $isLocal ? Where::of($fault->keys, $variant, $since, $until) : new Where($variant, since: $since, until: $until);

        return [$where->finding(
            AuditCode::SrmOnset,
            Severity::Warning,
            'The split left what was promised'.$where->told($setup->settings).': before, it was as it should be; in that time '.Told::count(max(0, $missing), 'visitor')." of variant {$variant} are missing (".Told::p($logP).', with the choice of the moment reckoned in).',
            numbers: ['log_p' => is_finite($logP) ? $logP : null, 'observed' => $isLocal ? $fault->observed : $break->observed, 'expected' => $isLocal ? $fault->expected : $break->expected],
            causes: ['Something that was published or changed at that time: on the site, in the experiment, in the way that events take.'],
            next: ['Look in the Logbook, and ask the site’s developers, for what changed then.'],
            weight: $fault === null ? 0.0 : abs($fault->part),
        )];
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether a unit stayed in its variant. */
final class AssignSwitched implements Check
{
    /** Fewer is what cleared cookies and shared devices make (common practice, no source). */
    private const NOTED = 0.001;
    private const FEWEST = 3;
    private const SPOILS = 0.01;

    public function code(): AuditCode
    {
        return AuditCode::AssignSwitched;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $sum = $evidence->tally->assignment;
        $switched = $sum->switched->total();
        $part = $switched / max(1, $sum->exposed);
        if ($switched < self::FEWEST || $part < self::NOTED) {
            return [];
        }
        $where = Culprit::among($sum->switched, $evidence->tally->split->exposed, $evidence->setup);

        return [$where->finding(
            AuditCode::AssignSwitched,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($switched, $evidence->setup->experiment->unit).' ('.Told::percent($part).') met several variants'.$where->told($evidence->setup->settings).': they have seen both, and are left out of the split.',
            numbers: ['units' => $switched, 'exposed' => $sum->exposed, 'part' => round($part, 6)],
            causes: ['The variant is not kept: the cookie is refused, shortened or deleted.', 'Two places decide on the variant.', 'Weights were changed, and visitors were assigned anew.'],
            next: ['Rehearse a returning visitor.', 'Look at the events of some of them.'],
            weight: $part,
        )];
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Sums\AssignmentSum;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Exposures where, when or of whom there should be none. */
final class AssignOutside implements Check
{
    private const WORDS = [
        'page' => 'on a page that the page rule does not match',
        'audience' => 'though the audience rule does not let them in',
        'run' => 'before the start or after the end of the run',
        'share' => 'though the share does not let them in',
    ];

    private const CAUSES = [
        'page' => 'The exposure is sent on pages that were not meant, or the page rule is not the one that the site got.',
        'audience' => 'The audience is decided elsewhere, or by facts that the log does not tell in the same way.',
        'run' => 'An older file still runs in caches, or the end in the experiment file is not when it was switched off.',
        'share' => 'Visitors are let in by something else than the assignment, or the share in the experiment file is not the one that was published.',
    ];

    /** A few late or odd ones are always there (common practice, no source). */
    private const FEWEST = 5;
    private const NOTED = 0.003;
    private const SPOILS = 0.01;

    public function code(): AuditCode
    {
        return AuditCode::AssignOutside;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->assignment;
        $all = $sum->exposed + $sum->outside['run']->total();
        $found = [];
        foreach (AssignmentSum::REASONS as $reason) {
            $units = $sum->outside[$reason]->total();
            $part = $units / max(1, $all);
            if ($units < self::FEWEST || $part < self::NOTED) {
                continue;
            }
            $where = Culprit::of($sum->outside[$reason], static fn (string $key): int => $evidence->tally->split->exposed->total($key), static fn (string $key): array => $evidence->tally->split->exposed->hours($key), $evidence->tally->split->exposed->byVariant(count($evidence->setup->variants)), $evidence->setup);
            // What came later than the run has nothing to be compared with.
            $where = $reason === 'run' ? new Where($where->variant) : $where;
            $found[] = $where->finding(
                AuditCode::AssignOutside,
                $part >= self::SPOILS ? Severity::Warning : Severity::Note,
                Told::count($units, $evidence->setup->experiment->unit).' ('.Told::percent($part).') were exposed '.self::WORDS[$reason].$where->told($evidence->setup->settings).'.',
                numbers: ['reason' => $reason, 'units' => $units, 'exposed' => $all, 'part' => round($part, 6)],
                causes: [self::CAUSES[$reason]],
                next: ['Compare the experiment file with what was published at that time.', 'Look at the events of some of them.'],
                weight: $part,
            );
        }

        return $found;
    }
}

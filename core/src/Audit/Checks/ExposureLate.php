<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Goals reached by visitors who had seen a page of the experiment, but whose first exposure came only afterwards: their hits do not count. */
final class ExposureLate implements Check
{
    private const FEWEST = 5;

    /** Of those who reached the goal (common practice, no source). */
    private const NOTED = 0.01;
    private const SPOILS = 0.03;

    public function code(): AuditCode
    {
        return AuditCode::ExposureLate;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->goals === []) {
            throw new NotRun('No goal is declared.');
        }
        if (! $setup->settings->isRecomputed) {
            throw new NotRun('The experiment file says that variants were assigned elsewhere, so nobody can tell when a visitor should have been in.');
        }
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $sum = $evidence->tally->goals[$place];
            $early = $sum->early->total();
            $all = $early + $sum->reached->total();
            if ($early < self::FEWEST || $early / $all < self::NOTED) {
                continue;
            }
            $part = $early / $all;
            $where = Culprit::of($sum->early, static fn (string $key): int => $sum->early->total($key) + $sum->soon->total($key), static fn (string $key): array => $sum->soon->hours($key), $sum->reached->byVariant(count($setup->variants)), $setup);
            $found[] = new Finding(
                AuditCode::ExposureLate,
                $part >= self::SPOILS ? Severity::Warning : Severity::Note,
                Told::count($early, 'visitor').' ('.Told::percent($part)." of those who reached {$goal->key}) had reached it before their first exposure, though they had seen a page of the experiment".$where->told($setup->settings).': these hits do not count.',
                $where->variant,
                $goal->key,
                segment: $where->segment,
                since: $where->since,
                until: $where->until,
                numbers: ['visitors' => $early, 'reached' => $sum->reached->total(), 'part' => round($part, 6)],
                causes: ['The exposure waits for something: a slow file, a consent, an element that comes late.', 'It is sent only on a later page.'],
                next: ['Rehearse the way to the goal, and see when the exposure is sent.'],
                weight: $part,
            );
        }

        return $found;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Told;
use Pellix\Core\Statistics\Hypergeometric;
use Pellix\Core\Wiring\Findings\Severity;

/** A goal that the visitors of one variant never reach, though those of the others do: exact, given how many reached it in all. */
final class GoalSilent implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::GoalSilent;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->goals === []) {
            throw new NotRun('No goal is declared.');
        }
        $evidence->needExposed();
        $variants = count($setup->variants);
        $units = $evidence->tally->split->exposed->byVariant($variants);
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $reached = $evidence->tally->goals[$place]->reached->byVariant($variants);
            foreach ($reached as $i => $number) {
                if ($number > 0 || $units[$i] === 0 || array_sum($reached) === 0) {
                    continue;
                }
                $logP = Hypergeometric::logAtMost(0, $units[$i], array_sum($reached), array_sum($units));
                // Each goal in each variant is a look of its own (Bonferroni).
                if ($logP + log(count($setup->goals) * $variants) >= log($setup->alpha)) {
                    continue;
                }
                $others = array_sum($reached) / max(1, array_sum($units) - $units[$i]);
                $found[] = new Finding(
                    AuditCode::GoalSilent,
                    Severity::Blocker,
                    "Nobody in variant {$setup->variants[$i]} reached {$goal->key}: none of ".Told::count($units[$i], 'visitor').', where in the others '.Told::percent($others).' did ('.Told::p($logP).').',
                    $setup->variants[$i],
                    $goal->key,
                    numbers: ['visitors' => $units[$i], 'reached' => array_combine($setup->variants, $reached), 'log_p' => $logP],
                    causes: ['The variant takes the way to the goal away, or breaks it.', 'The goal’s event is not sent in this variant: another page, another name, an error before it.'],
                    next: ["Rehearse variant {$setup->variants[$i]} up to the goal.", 'Do not decide on this data.'],
                    weight: 1.0,
                );
            }
        }

        return $found;
    }
}

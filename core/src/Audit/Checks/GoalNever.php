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

/** A goal that nobody reached. */
final class GoalNever implements Check
{
    /** With so many visitors a goal that hardly anybody reaches (one in a hundred) would have been reached: 0.99^500 = 0.7 %. */
    private const ENOUGH = 500;

    public function code(): AuditCode
    {
        return AuditCode::GoalNever;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->goals === []) {
            throw new NotRun('No goal is declared.');
        }
        $evidence->needExposed();
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $sum = $evidence->tally->goals[$place];
            if ($sum->reached->total() > 0 || ($evidence->exposed() < self::ENOUGH && ($sum->hits->total() > 0 || $evidence->exposed() < self::ENOUGH / 5))) {
                continue;
            }
            $found[] = new Finding(
                AuditCode::GoalNever,
                $goal->role === 'primary' && $evidence->exposed() >= self::ENOUGH ? Severity::Warning : Severity::Note,
                "Nobody reached {$goal->key}: none of ".Told::count($evidence->exposed(), 'visitor').($sum->hits->total() > 0 ? '; '.Told::count($sum->hits->total(), 'hit').' came from others.' : ', and nobody else either.'),
                null,
                $goal->key,
                numbers: ['visitors' => $evidence->exposed(), 'hits' => $sum->hits->total()],
                causes: ['The goal’s rule names an address or an event that never comes: a whole address where a path was wanted, a misspelt name.', 'Its event is not sent.'],
                next: ['Try the rule on the log: `bin/pellix goals EVENTS --goals=FILE --explain=VISITOR`.'],
                weight: 1.0,
            );
        }

        return $found;
    }
}

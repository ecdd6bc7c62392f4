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

/** A goal that was given another rule while the experiment ran. */
final class EpochGoal implements Check
{
    public function code(): AuditCode
    {
        return AuditCode::EpochGoal;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->settings->goalChanges === []) {
            throw new NotRun('The experiment file tells of no change of a goal ("audit": {"goal_changes": …}).');
        }
        $found = [];
        foreach ($setup->settings->goalChanges as ['goal' => $key, 'at' => $at]) {
            $places = array_keys(array_filter($setup->goals, static fn ($goal): bool => $goal->key === $key));
            if ($places === [] || $at <= max($setup->from, $evidence->tally->volume->first) || $at >= min($setup->to, $evidence->tally->volume->last)) {
                continue;
            }
            [$before, $after] = [[0, 0], [0, 0]];
            foreach ($evidence->tally->split->exposed->hours() as $hour => $units) {
                $hour * 3_600_000 < $at ? $before[1] += $units : $after[1] += $units;
            }
            foreach ($evidence->tally->goals[$places[0]]->soon->hours() as $hour => $units) {
                $hour * 3_600_000 < $at ? $before[0] += $units : $after[0] += $units;
            }
            $found[] = new Finding(
                AuditCode::EpochGoal,
                $setup->goals[$places[0]]->role === 'primary' ? Severity::Warning : Severity::Note,
                "{$key} was given another rule on {$setup->settings->told($at)}: before, ".Told::percent($before[0] / max(1, $before[1])).' of the newly exposed reached it within some hours, since then '.Told::percent($after[0] / max(1, $after[1])).'. Both together are the rate of no one goal.',
                null,
                $key,
                since: $at,
                numbers: ['before' => ['reached' => $before[0], 'visitors' => $before[1]], 'after' => ['reached' => $after[0], 'visitors' => $after[1]]],
                causes: ['The rule was changed while the experiment ran.'],
                next: ['Count the whole run by one of the two rules, or decide on the time since the change alone.'],
                weight: 0.5,
            );
        }

        return $found;
    }
}

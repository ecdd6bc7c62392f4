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

/** Users who come back with a new visitor id once the assignment’s lifetime is over. */
final class AssignShortMemory implements Check
{
    private const FEWEST = 5;

    /** Of the users (common practice, no source). */
    private const NOTED = 0.03;
    private const SPOILS = 0.1;

    public function code(): AuditCode
    {
        return AuditCode::AssignShortMemory;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->experiment->lifetimeDays === null) {
            throw new NotRun('The experiment file does not say how long a variant is kept: "lifetime_days".');
        }
        $users = $evidence->users;
        if ($users->exposed === 0) {
            throw new NotRun('No event of an exposed visitor has a user.');
        }
        $period = $evidence->period();
        if ($period === null || $period[1] - $period[0] < 86_400_000 * $setup->experiment->lifetimeDays) {
            throw new NotRun("The log is not longer than the {$setup->experiment->lifetimeDays} days that a variant is kept.");
        }
        $part = $users->forgotten / $users->exposed;
        if ($users->forgotten < self::FEWEST || $part < self::NOTED) {
            return [];
        }

        return [new Finding(
            AuditCode::AssignShortMemory,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($users->forgotten, 'user').' ('.Told::percent($part).' of those who were signed in) came back as new visitors after the '.$setup->experiment->lifetimeDays.' days that a variant is kept, and were assigned again.',
            numbers: ['users' => $users->forgotten, 'exposed_users' => $users->exposed, 'lifetime_days' => $setup->experiment->lifetimeDays, 'part' => round($part, 6)],
            causes: ['The visitor id or the assignment is kept for a shorter time than the experiment runs.'],
            next: ['Keep them for longer than the run, or end the run earlier.'],
            weight: $part,
        )];
    }
}

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

/** One signed-in user, several visitor ids, different variants. */
final class AssignUserSplit implements Check
{
    private const FEWEST = 5;

    /** Of the users: some have several devices (common practice, no source). */
    private const NOTED = 0.03;
    private const SPOILS = 0.15;

    public function code(): AuditCode
    {
        return AuditCode::AssignUserSplit;
    }

    public function look(Evidence $evidence): array
    {
        if ($evidence->setup->experiment->unit === 'user') {
            throw new NotRun('The experiment assigns users, so one user has one variant whatever the visitor ids.');
        }
        $users = $evidence->users;
        if ($users->exposed === 0) {
            throw new NotRun('No event of an exposed visitor has a user.');
        }
        $part = $users->split / $users->exposed;
        if ($users->split < self::FEWEST || $part < self::NOTED) {
            return [];
        }

        return [new Finding(
            AuditCode::AssignUserSplit,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($users->split, 'user').' ('.Told::percent($part).' of those who were signed in) met several variants under several visitor ids: the difference between the variants is watered down.',
            numbers: ['users' => $users->split, 'exposed_users' => $users->exposed, 'with_several_ids' => $users->several, 'part' => round($part, 6)],
            causes: ['People use several devices or browsers.', 'The visitor id is not kept: the cookie is shortened, or differs between hosts.'],
            next: ['Assign by user where the experiment is for people who have signed in.', 'Check that the visitor’s cookie is the same on all hosts.'],
            weight: $part,
        )];
    }
}

<?php

namespace App\ReadModel;

use Pellix\Core\Goals\Goal;

/** A goal as it is being counted: while it is recounted after a change, there are two of them. */
final readonly class GoalCount
{
    /** @param int $id of `counts` */
    public function __construct(public int $id, public int $goalId, public Goal $goal)
    {
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Goals\Goal;

/** A goal, and what was recorded of it on the whole site. */
final readonly class GoalRecord
{
    /**
     * @param int      $hits       of the last four weeks
     * @param int      $worthless  those among them without a value that can be read
     * @param list<string> $currencies of their values
     * @param \DateTimeImmutable|null $rehearsed when a rehearsal of the experiment as it is reached it in every variant
     */
    public function __construct(public Goal $goal, public ?\DateTimeImmutable $last, public int $hits, public int $worthless, public array $currencies, public ?\DateTimeImmutable $rehearsed = null)
    {
    }
}

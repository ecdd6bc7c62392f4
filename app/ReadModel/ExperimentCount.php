<?php

namespace App\ReadModel;

use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;

/** An experiment as it is being counted, with the goals that count in it. */
final readonly class ExperimentCount
{
    /**
     * @param int             $id      of `counts`
     * @param list<GoalCount> $goals   the current ones, and those that are being built
     * @param bool            $settled whether it ended so long ago that nothing can change what its units did
     * @param int             $revision of the experiment
     * @param UnitBook|null   $book    what its units come to
     */
    public function __construct(public int $id, public int $experimentId, public Experiment $experiment, public Periods $ran, public array $goals, public bool $settled = false, public int $revision = 0, public ?UnitBook $book = null)
    {
    }

    public function byUser(): bool
    {
        return $this->experiment->unit === 'user';
    }
}

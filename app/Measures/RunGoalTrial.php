<?php

namespace App\Measures;

use App\Models\Trial;
use Carbon\CarbonImmutable;
use Pellix\Core\Goals\Goal;

/** What a goal that is being written would have counted. */
class RunGoalTrial extends RunTrial
{
    protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array
    {
        return app(GoalTrial::class)->of($trial->site, Goal::read($trial->definition), $now, $progress);
    }
}

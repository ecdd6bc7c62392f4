<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\RunTrial;
use App\Models\Trial;
use Carbon\CarbonImmutable;

/** Whom an experiment that is being written would be for. */
class RunReachTrial extends RunTrial
{
    protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array
    {
        return app(ReachTrial::class)->of($trial->site, $trial->definition, $now, $progress);
    }
}

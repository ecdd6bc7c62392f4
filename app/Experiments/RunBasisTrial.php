<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\RunTrial;
use App\Models\Trial;
use Carbon\CarbonImmutable;

/** What an experiment can be planned with. */
class RunBasisTrial extends RunTrial
{
    protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array
    {
        return app(BasisTrial::class)->of($trial->site, $trial->definition, $now, $progress);
    }
}

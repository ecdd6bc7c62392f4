<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Bounds\TimeLimit;
use App\Measures\RunTrial;
use App\Models\Trial;
use Carbon\CarbonImmutable;

/** What is worth a second look in an experiment that is being written. */
class RunAdviceTrial extends RunTrial
{
    /** Whoever is next waits for it. */
    private const LONGEST_SECONDS = 30;

    public int $tries = 1;

    protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array
    {
        return TimeLimit::within(self::LONGEST_SECONDS, static fn (): array => app(AdviceTrial::class)->of($trial->site, $trial->definition));
    }
}

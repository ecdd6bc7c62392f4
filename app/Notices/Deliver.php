<?php

namespace App\Notices;

use Carbon\CarbonImmutable;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** Has what is due told now, instead of within a minute. */
class Deliver implements ShouldQueue
{
    use Queueable;

    /** What does not get through is tried again by the schedule. */
    public int $tries = 1;

    public function handle(Deliverer $deliverer): void
    {
        $deliverer->due(CarbonImmutable::now('UTC'));
    }
}

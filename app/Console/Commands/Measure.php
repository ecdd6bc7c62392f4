<?php

namespace App\Console\Commands;

use App\Metrics\Measurer;
use Carbon\CarbonImmutable;
use Illuminate\Console\Command;

class Measure extends Command
{
    protected $signature = 'pellix:measure';

    protected $description = 'Measures what /metrics tells of this machine';

    public function handle(Measurer $measurer): int
    {
        $measurer->measure(CarbonImmutable::now('UTC'));

        return self::SUCCESS;
    }
}

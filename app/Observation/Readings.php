<?php

declare(strict_types=1);

namespace App\Observation;

use App\Models\Experiment;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Cache\Repository;
use Pellix\Core\Chain\Observations;

/** Observations of experiments, gathered again only when something has arrived or changed. */
final readonly class Readings
{
    public function __construct(private Observer $observer, private Repository $cache)
    {
    }

    public function of(Experiment $experiment, CarbonImmutable $now): Observations
    {
        // The clock alone changes a reading too (a draft looks back a week, evidence grows stale): at most a minute's delay.
        $key = 'reading:'.sha1($this->observer->fingerprint($experiment).':'.$now->format('Y-m-d H:i'));

        return $this->cache->remember($key, 120, fn (): Observations => $this->observer->observe($experiment, $now));
    }
}

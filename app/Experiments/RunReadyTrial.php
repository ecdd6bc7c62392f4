<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\RunTrial;
use App\Models\Experiment;
use App\Models\Trial;
use Carbon\CarbonImmutable;
use Pellix\Core\Experiments\Ready\ReadyPoint;

/** Looks an experiment over before its start. */
class RunReadyTrial extends RunTrial
{
    protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array
    {
        $experiment = Experiment::query()->where('site_id', $trial->site_id)->where('key', $trial->definition['key'])->first();

        return $experiment === null ? null : [
            'revision' => $experiment->revision,
            'points' => array_map(static fn (ReadyPoint $point): array => $point->toArray(), app(ReadyLists::class)->of($experiment, $now)),
        ];
    }
}

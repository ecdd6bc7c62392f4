<?php

namespace App\Measures;

use App\Models\EventDefinition;
use App\Models\Site;
use Pellix\Core\Events\TrackingPlan;

/** The tracking plan of a site, ready to hold events against. */
final class Plan
{
    public static function of(Site $site): TrackingPlan
    {
        return TrackingPlan::of($site->eventDefinitions()->get()->mapWithKeys(static fn (EventDefinition $one): array => [$one->name => $one->schema])->all());
    }
}

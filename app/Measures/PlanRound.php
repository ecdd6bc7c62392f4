<?php

namespace App\Measures;

use App\Models\EventDefinition;
use App\Models\Site;
use App\ReadModel\Round;
use Illuminate\Support\Facades\DB;

/** Keeps up how much came of each event, and how the newest ones keep to the plan. */
final class PlanRound implements Round
{
    /** @var array<string, string> */
    private array $judged = [];

    public function __construct(private readonly EventVolumes $volumes)
    {
    }

    public function make(Site $site): bool
    {
        $this->volumes->refresh($site);
        foreach ($site->eventDefinitions()->get() as $definition) {
            /** @var EventDefinition $definition */
            $newest = DB::selectOne('select received from events force index (events_names) where site_id = ? and name = ? order by received desc limit 1', [$site->id, $definition->name]);
            $stamp = ($newest->received ?? '').$definition->updated_at;
            if (($this->judged["{$site->id} {$definition->name}"] ?? null) !== $stamp) {
                $this->volumes->judge($site, $definition->name);
                $this->judged["{$site->id} {$definition->name}"] = $stamp;
            }
        }

        return false;
    }
}

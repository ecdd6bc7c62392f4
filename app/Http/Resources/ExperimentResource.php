<?php

namespace App\Http\Resources;

use App\Briefs\ChangeBrief;
use App\Models\Experiment;
use App\Models\Goal;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Experiments\Served;
use Pellix\Core\Experiments\Stage;

/** @mixin Experiment */
class ExperimentResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'key' => $this->key,
            'name' => $this->name,
            'hypothesis' => $this->hypothesis,
            'hypothesis_parts' => $this->hypothesis_parts === null ? null : (object) $this->hypothesis_parts,
            'owner' => $this->owner ?? '',
            'notes' => $this->notes ?? '',
            'labels' => $this->labels ?? [],
            'state' => $this->state,
            'actions' => Stage::from($this->state)->possible(),
            'share' => $this->share,
            'variants' => $this->variants,
            'pages' => $this->pages,
            'trigger' => $this->trigger,
            'audience' => $this->audience,
            'kind' => $this->kind,
            'unit' => $this->unit,
            'lifetime_days' => $this->lifetime_days,
            'planned_days' => $this->planned_days,
            'group' => $this->group(),
            'revision' => $this->revision,
            'goals' => $this->goals->map(static fn (Goal $goal): array => [...$goal->definition, 'role' => $goal->pivot->role])->all(),
            'started_at' => $this->started_at,
            'ended_at' => $this->ended_at,
            'changed_at' => $this->changed_at,
            'changed_by' => $this->changed_by,
            'has_plan' => $this->plan !== null,
            'start_at' => $this->start_at,
            'end_at' => $this->end_at,
            'end_visitors' => $this->end_visitors,
            'held_up' => $this->held_up,
            'kept' => $this->kept_variant === null ? null : ['variant' => $this->kept_variant, 'since' => $this->kept_since, 'overdue' => $this->kept_since !== null && Served::isOverdue($this->kept_since, CarbonImmutable::now('UTC')), ...self::takenOver($this->resource, (string) $this->kept_variant)],
            'started_over' => $this->started_over,
            // Of one alone: a list of many would be long.
            'unfinished' => $this->when($request->route('experiment') !== null, fn (): ?object => $this->unfinished === null ? null : (object) $this->unfinished->written),
        ];
    }

    /** @return array{pages: int, taken: int} how many of its pages the site itself has changed by now */
    private static function takenOver(Experiment $experiment, string $variant): array
    {
        $seen = ChangeBrief::takeover($experiment, $variant);

        return ['pages' => $seen['known'], 'taken' => $seen['taken']];
    }
}

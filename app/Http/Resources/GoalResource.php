<?php

namespace App\Http\Resources;

use App\Models\Experiment;
use App\Models\Goal;
use App\Models\GoalRevision;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Illuminate\Support\Facades\DB;

/** @mixin Goal */
class GoalResource extends JsonResource
{
    private const DAYS = 7;

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $hits = DB::table('goal_hits')->where('goal_id', $this->id)->where('time', '>=', CarbonImmutable::now('UTC')->subDays(self::DAYS)->format('Y-m-d H:i:s.v'))
            ->selectRaw('count(*) as n, count(distinct visitor) as visitors, max(time) as last')->first();

        return [
            'goal' => $this->declared()->toArray(),
            'revision' => $this->revision,
            'revisions' => $this->revisions()->orderByDesc('revision')->get()->map(static fn (GoalRevision $one): array => [
                'revision' => $one->revision, 'from' => $one->from, 'author' => $one->author, 'definition' => (object) $one->definition,
            ])->all(),
            'experiments' => $this->experiments->map(static fn (Experiment $one): array => ['key' => $one->key, 'name' => $one->name, 'state' => $one->state])->all(),
            'recent' => ['hits' => (int) $hits->n, 'visitors' => (int) $hits->visitors, 'last' => $hits->last === null ? null : CarbonImmutable::parse($hits->last, 'UTC')],
        ];
    }
}

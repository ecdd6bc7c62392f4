<?php

namespace App\Http\Resources;

use App\Models\Experiment;
use App\Models\Goal;
use App\Models\GoalRevision;
use App\ReadModel\Progress;
use App\ReadModel\RecentHits;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Goal */
class GoalResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'goal' => [...$this->definition, 'role' => 'primary'],
            'revision' => $this->revision,
            'revisions' => $this->revisions->sortByDesc('revision')->values()->map(static fn (GoalRevision $one): array => [
                'revision' => $one->revision, 'from' => $one->from, 'author' => $one->author, 'definition' => (object) $one->definition,
            ])->all(),
            'experiments' => $this->experiments->map(static fn (Experiment $one): array => ['key' => $one->key, 'name' => $one->name, 'state' => $one->state])->all(),
            'recent' => self::of($request, 'recent', fn (): array => RecentHits::ofSite($this->site_id))[$this->id] ?? RecentHits::NONE,
            'counting' => self::of($request, 'counting', fn (): array => Progress::ofCounts($this->site_id, 'goal'))[$this->id] ?? ['state' => 'building', 'done' => 0, 'total' => 0, 'error' => null],
        ];
    }

    /**
     * What is read once for all goals of a request.
     *
     * @param callable(): array<int, array<string, mixed>> $read
     *
     * @return array<int, array<string, mixed>>
     */
    private static function of(Request $request, string $what, callable $read): array
    {
        if (! $request->attributes->has("goals.{$what}")) {
            $request->attributes->set("goals.{$what}", $read());
        }

        return $request->attributes->get("goals.{$what}");
    }
}

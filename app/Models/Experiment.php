<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Formats\Moment;

/** An experiment as it is kept; `declared()` is what the core knows it as. */
class Experiment extends Model
{
    protected $fillable = [
        'site_id', 'key', 'name', 'hypothesis', 'state', 'salt', 'share', 'variants', 'pages', 'trigger', 'stretches', 'started_at', 'ended_at', 'changed_at',
    ];

    protected $casts = [
        'share' => 'float',
        'variants' => 'array',
        'pages' => 'array',
        'trigger' => 'array',
        'stretches' => 'array',
        'started_at' => 'immutable_datetime',
        'ended_at' => 'immutable_datetime',
        'changed_at' => 'immutable_datetime',
    ];

    /** Times of experiments are compared with times of events, to the millisecond. */
    protected $dateFormat = 'Y-m-d H:i:s.v';

    public function getRouteKeyName(): string
    {
        return 'key';
    }

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return BelongsToMany<Goal, $this> */
    public function goals(): BelongsToMany
    {
        return $this->belongsToMany(Goal::class)->withPivot('role', 'position')->orderByPivot('position');
    }

    /** @return list<array{string, string|null}> when it ran, in RFC 3339; of a draft: nothing */
    public function ran(): array
    {
        return $this->stretches ?? [];
    }

    public function declared(): Declared
    {
        return Declared::read($this->file());
    }

    /** @return array<string, mixed> the experiment file's object */
    private function file(): array
    {
        $weights = array_column($this->variants, 'weight', 'key');

        return [
            'pellix' => 1,
            'key' => $this->key,
            'name' => $this->name,
            'hypothesis' => $this->hypothesis,
            'salt' => $this->salt,
            'share' => $this->share,
            'variants' => $this->variants,
            'pages' => $this->pages,
            'trigger' => $this->trigger,
            'goals' => $this->goals->map(static fn (Goal $goal): array => $goal->declared($goal->pivot->role)->toArray())->all(),
            'epochs' => $this->started_at === null ? [] : [
                ['from' => Moment::format($this->started_at), 'share' => $this->share, 'weights' => $weights],
            ],
            'start' => $this->started_at === null ? null : Moment::format($this->started_at),
            'end' => $this->ended_at === null ? null : Moment::format($this->ended_at),
        ];
    }
}

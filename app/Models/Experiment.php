<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Database\Eloquent\Relations\HasOne;
use Illuminate\Database\Eloquent\SoftDeletes;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Experiments\Revision;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;

/** An experiment as it is kept; `declared()` is what the core knows it as. */
class Experiment extends Model
{
    /** A draft that was deleted can be had back. */
    use SoftDeletes;

    protected $fillable = [
        'site_id', 'key', 'name', 'hypothesis', 'hypothesis_parts', 'owner', 'notes', 'labels', 'changed_by', 'state', 'salt', 'share', 'variants', 'pages', 'trigger', 'kind', 'unit', 'audience', 'lifetime_days', 'planned_days', 'plan', 'decision', 'group_key', 'group_from', 'revision', 'started_at', 'ended_at', 'changed_at',
        'start_at', 'end_at', 'end_visitors', 'kept_variant', 'kept_since', 'started_over', 'held_up',
    ];

    protected $attributes = ['kind' => 'in_page', 'unit' => 'visitor', 'revision' => 0];

    protected $casts = [
        'share' => 'float',
        'variants' => StoredJson::class,
        'pages' => StoredJson::class,
        'trigger' => StoredJson::class,
        'audience' => StoredJson::class,
        'hypothesis_parts' => StoredJson::class,
        'labels' => StoredJson::class,
        'lifetime_days' => 'integer',
        'planned_days' => 'integer',
        'plan' => StoredJson::class,
        'decision' => StoredJson::class,
        'group_from' => 'float',
        'revision' => 'integer',
        'started_at' => 'immutable_datetime',
        'ended_at' => 'immutable_datetime',
        'changed_at' => 'immutable_datetime',
        'start_at' => 'immutable_datetime',
        'end_at' => 'immutable_datetime',
        'end_visitors' => 'integer',
        'kept_since' => 'immutable_datetime',
        'started_over' => StoredJson::class,
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

    /** @return HasMany<ExperimentRevision, $this> */
    public function revisions(): HasMany
    {
        return $this->hasMany(ExperimentRevision::class)->orderBy('number');
    }

    /** @return HasMany<Rehearsal, $this> */
    public function rehearsals(): HasMany
    {
        return $this->hasMany(Rehearsal::class);
    }

    /** @return HasOne<UnfinishedDraft, $this> what was written last, where that is not whole yet */
    public function unfinished(): HasOne
    {
        return $this->hasOne(UnfinishedDraft::class);
    }

    /**
     * What it would begin with if it began now.
     *
     * @throws InvalidInput
     */
    public function declaredAnew(): Declared
    {
        return Declared::read([...$this->declaration(), 'epochs' => []], true);
    }

    /** When it ran: of a draft, never. */
    public function ran(): Periods
    {
        return Revision::periods($this->states());
    }

    public function declared(): Declared
    {
        return Declared::read($this->file());
    }

    /** @return array<string, mixed> the experiment file's object */
    public function file(): array
    {
        $epochs = Revision::epochs($this->states());

        return [
            ...$this->declaration(),
            'epochs' => $epochs,
            'start' => $this->started_at === null ? null : Moment::format($this->started_at),
            'end' => $this->ended_at === null ? null : Moment::format($this->ended_at),
        ];
    }

    /** @return array<string, mixed> what it declares now: the file without what follows from its life */
    public function declaration(): array
    {
        return array_filter([
            'pellix' => 1,
            'key' => $this->key,
            'name' => $this->name,
            'hypothesis' => $this->hypothesis,
            'hypothesis_parts' => $this->hypothesis_parts,
            'owner' => $this->owner === '' ? null : $this->owner,
            'notes' => ($this->notes ?? '') === '' ? null : $this->notes,
            'labels' => $this->labels,
            'kind' => $this->kind,
            'unit' => $this->unit,
            'salt' => $this->salt,
            'share' => $this->share,
            'variants' => $this->variants,
            'pages' => $this->pages,
            'audience' => $this->audience,
            'trigger' => $this->trigger,
            'goals' => $this->goals->map(static fn (Goal $goal): array => [...$goal->definition, 'role' => $goal->pivot->role])->all(),
            'lifetime_days' => $this->lifetime_days,
            'planned_days' => $this->planned_days,
            'plan' => $this->plan,
            'decision' => $this->decision,
            'group' => $this->group(),
        ], static fn (mixed $part): bool => $part !== null);
    }

    /** @return array{key: string, from?: float}|null the group of experiments that it shares no visitor with */
    public function group(): ?array
    {
        return $this->group_key === null ? null : ['key' => $this->group_key, ...($this->group_from === null ? [] : ['from' => $this->group_from])];
    }

    /** @return list<Revision> */
    private function states(): array
    {
        return $this->revisions->map(static fn (ExperimentRevision $one): Revision => $one->revision())->all();
    }
}

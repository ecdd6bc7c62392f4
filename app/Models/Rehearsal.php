<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/**
 * A real browser that walks through an experiment as visitors would, and what it found.
 *
 * @property list<string>              $variants
 * @property list<string>              $screens
 * @property array<string, mixed>      $script
 * @property array<string, mixed>|null $about
 * @property CarbonImmutable           $asked_at
 * @property CarbonImmutable|null      $started_at
 * @property CarbonImmutable|null      $ended_at
 */
class Rehearsal extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'experiment_id', 'kind', 'state', 'why', 'by', 'author_id', 'revision', 'configuration', 'variants', 'screens', 'script', 'doing', 'done', 'total', 'blockers', 'warnings', 'notes', 'about', 'worker', 'lease', 'tries', 'asked_at', 'started_at', 'ended_at'];

    protected $casts = [
        'variants' => StoredJson::class, 'screens' => StoredJson::class, 'script' => StoredJson::class, 'about' => StoredJson::class,
        'asked_at' => 'immutable_datetime', 'started_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return BelongsTo<Experiment, $this> */
    public function experiment(): BelongsTo
    {
        return $this->belongsTo(Experiment::class);
    }

    /** @return HasMany<RehearsalPart, $this> */
    public function parts(): HasMany
    {
        return $this->hasMany(RehearsalPart::class)->orderBy('place');
    }

    public function isOver(): bool
    {
        return in_array($this->state, ['done', 'cancelled', 'failed'], true);
    }
}

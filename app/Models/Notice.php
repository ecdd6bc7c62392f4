<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * A trouble of a running experiment that an audit found, or that an experiment is to be decided: told once.
 *
 * @property list<string>         $areas
 * @property CarbonImmutable      $at
 * @property CarbonImmutable|null $over_at
 */
class Notice extends Model
{
    /** Code of one that is no trouble: an experiment is to be decided. */
    public const DECISION = 'decision.due';

    public $timestamps = false;

    protected $fillable = ['site_id', 'experiment_id', 'audit_id', 'identity', 'code', 'severity', 'message', 'areas', 'at', 'over_at'];

    protected $casts = ['areas' => StoredJson::class, 'at' => 'immutable_datetime', 'over_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    public function isDecision(): bool
    {
        return $this->code === self::DECISION;
    }

    /** @return BelongsTo<Experiment, $this> */
    public function experiment(): BelongsTo
    {
        return $this->belongsTo(Experiment::class);
    }
}

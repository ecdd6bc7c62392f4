<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/**
 * An audit of an experiment, or of a log that somebody brought: what it went by, how far it is, and what it says.
 *
 * @property array<string, mixed> $settings
 * @property array<string, mixed>|null $since_last
 * @property CarbonImmutable|null $went_on_from
 * @property int|null             $read_events
 * @property CarbonImmutable      $asked_at
 * @property CarbonImmutable|null $started_at
 * @property CarbonImmutable|null $ended_at
 */
class Audit extends Model
{
    public $timestamps = false;

    /** All that a list shows: what it goes by may be long. */
    public const HEAD = ['id', 'site_id', 'experiment_id', 'audit_log_id', 'name', 'state', 'why', 'by', 'engine', 'fingerprint', 'doing', 'done', 'total', 'verdict', 'sentence', 'since_last', 'blockers', 'warnings', 'notes', 'went_on_from', 'read_events', 'asked_at', 'started_at', 'ended_at'];

    protected $fillable = ['site_id', 'experiment_id', 'audit_log_id', 'name', 'state', 'why', 'by', 'settings', 'engine', 'fingerprint', 'doing', 'done', 'total', 'verdict', 'sentence', 'since_last', 'blockers', 'warnings', 'notes', 'worker', 'lease', 'tries', 'went_on_from', 'read_events', 'asked_at', 'started_at', 'ended_at'];

    protected $casts = ['settings' => StoredJson::class, 'since_last' => StoredJson::class, 'done' => 'integer', 'total' => 'integer', 'read_events' => 'integer', 'went_on_from' => 'immutable_datetime', 'asked_at' => 'immutable_datetime', 'started_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime'];

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

    /** @return BelongsTo<AuditLog, $this> */
    public function log(): BelongsTo
    {
        return $this->belongsTo(AuditLog::class, 'audit_log_id');
    }

    /** @return HasMany<AuditShare, $this> */
    public function shares(): HasMany
    {
        return $this->hasMany(AuditShare::class);
    }

    /** The column that says what was audited: the same experiment, or the same log. */
    public function subject(): string
    {
        return $this->experiment_id === null ? 'audit_log_id' : 'experiment_id';
    }
}

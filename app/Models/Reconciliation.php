<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * A file of another source that is held against an experiment, or against a log.
 *
 * @property string                    $content  gzip
 * @property array<string, mixed>      $settings
 * @property array<string, mixed>|null $result
 * @property CarbonImmutable           $asked_at
 * @property CarbonImmutable|null      $ended_at
 */
class Reconciliation extends Model
{
    public $timestamps = false;

    /** All that a list shows: files and results may be long. */
    public const HEAD = ['id', 'site_id', 'experiment_id', 'audit_log_id', 'name', 'subject', 'state', 'failure', 'verdict', 'sentence', 'by', 'tries', 'asked_at', 'ended_at'];

    protected $fillable = ['site_id', 'experiment_id', 'audit_log_id', 'name', 'subject', 'settings', 'content', 'state', 'failure', 'verdict', 'sentence', 'result', 'by', 'worker', 'lease', 'tries', 'asked_at', 'ended_at'];

    protected $hidden = ['content'];

    protected $casts = ['settings' => StoredJson::class, 'result' => StoredJson::class, 'tries' => 'integer', 'asked_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

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
}

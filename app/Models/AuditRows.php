<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * The rows behind one number of an audit.
 *
 * @property array<string, mixed>      $sought
 * @property array<string, mixed>|null $found
 * @property CarbonImmutable           $asked_at
 */
class AuditRows extends Model
{
    public $timestamps = false;

    protected $table = 'audit_rows';

    protected $fillable = ['audit_id', 'mark', 'sought', 'state', 'failure', 'found', 'worker', 'lease', 'tries', 'asked_at', 'ended_at'];

    protected $casts = ['sought' => StoredJson::class, 'found' => StoredJson::class, 'tries' => 'integer', 'asked_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Audit, $this> */
    public function audit(): BelongsTo
    {
        return $this->belongsTo(Audit::class);
    }
}

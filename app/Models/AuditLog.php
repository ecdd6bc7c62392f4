<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/**
 * An event log that somebody brought to be audited; it arrives piece by piece.
 *
 * @property array<string, mixed>|null $experiment the file of the experiment that it is audited for
 * @property array<string, mixed>|null $mapping
 * @property CarbonImmutable           $created_at
 * @property CarbonImmutable           $last_at
 */
class AuditLog extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'name', 'size', 'received', 'state', 'sha256', 'experiment', 'mapping', 'by', 'created_at', 'last_at'];

    protected $casts = ['size' => 'integer', 'received' => 'integer', 'experiment' => StoredJson::class, 'mapping' => StoredJson::class, 'created_at' => 'immutable_datetime', 'last_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return HasMany<Audit, $this> */
    public function audits(): HasMany
    {
        return $this->hasMany(Audit::class);
    }
}

<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A link to an audit's report that needs no account. */
class AuditShare extends Model
{
    use OpensByToken;

    public $timestamps = false;

    protected $fillable = ['audit_id', 'recipient', 'token', 'token_hash', 'author', 'created_at', 'expires_at', 'revoked_at', 'read_at'];

    protected $hidden = ['token', 'token_hash'];

    protected $casts = ['token' => 'encrypted', 'created_at' => 'immutable_datetime', 'expires_at' => 'immutable_datetime', 'revoked_at' => 'immutable_datetime', 'read_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Audit, $this> */
    public function audit(): BelongsTo
    {
        return $this->belongsTo(Audit::class);
    }

    public function address(): string
    {
        return rtrim((string) config('app.url'), '/')."/audit/{$this->token}";
    }
}

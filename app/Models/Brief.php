<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** A hand-off brief for whoever installs the code, behind a link that needs no account. */
class Brief extends Model
{
    use OpensByToken;

    public $timestamps = false;

    protected $fillable = ['site_id', 'recipient', 'message', 'token_hash', 'token', 'guard_ms', 'author_id', 'author', 'created_at', 'expires_at', 'revoked_at', 'read_at', 'experiment_id', 'variant', 'content'];

    protected $hidden = ['token', 'token_hash'];

    protected $casts = [
        'token' => 'encrypted',
        'content' => StoredJson::class,
        'created_at' => 'immutable_datetime',
        'expires_at' => 'immutable_datetime',
        'revoked_at' => 'immutable_datetime',
        'read_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return BelongsTo<Experiment, $this> the one that has ended and whose change the site is to take over */
    public function experiment(): BelongsTo
    {
        return $this->belongsTo(Experiment::class)->withTrashed();
    }

    public function address(): string
    {
        return rtrim((string) config('app.url'), '/')."/brief/{$this->token}";
    }
}

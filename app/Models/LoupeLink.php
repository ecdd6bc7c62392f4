<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Pellix\Core\Loupe\Purpose;

/**
 * A link to a page of a site with the Loupe on it. Whoever holds it needs no account.
 *
 * @property Purpose              $purpose
 * @property CarbonImmutable      $created_at
 * @property CarbonImmutable      $expires_at
 * @property CarbonImmutable|null $revoked_at
 * @property CarbonImmutable|null $used_at
 */
class LoupeLink extends Model
{
    use OpensByToken;

    public $timestamps = false;

    protected $fillable = ['site_id', 'experiment_id', 'purpose', 'variant', 'url', 'recipient', 'token', 'token_hash', 'author_id', 'author', 'created_at', 'expires_at', 'revoked_at', 'used_at', 'pages'];

    protected $hidden = ['token', 'token_hash'];

    protected $casts = ['purpose' => Purpose::class, 'token' => 'encrypted', 'created_at' => 'immutable_datetime', 'expires_at' => 'immutable_datetime', 'revoked_at' => 'immutable_datetime', 'used_at' => 'immutable_datetime', 'pages' => 'integer'];

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

    /** @return BelongsTo<User, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(User::class, 'author_id');
    }

    /** The page's own address; the token stands behind the `#`, which no server is sent. */
    public function address(): string
    {
        [$page, $fragment] = explode('#', $this->url, 2) + [1 => ''];

        return $page.'#'.($fragment === '' ? '' : "{$fragment}&")."plx-loupe={$this->token}";
    }
}

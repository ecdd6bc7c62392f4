<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * A link that invites somebody to a site, or lets them set a new password: good for once, until it ends.
 *
 * @property string               $purpose    invitation or reset
 * @property CarbonImmutable      $created_at
 * @property CarbonImmutable      $expires_at
 * @property CarbonImmutable|null $used_at
 * @property CarbonImmutable|null $revoked_at
 */
class AccountLink extends Model
{
    use OpensByToken {
        isOpen as private isInTime;
    }

    public const INVITATION = 'invitation';
    public const RESET = 'reset';

    public $timestamps = false;

    protected $fillable = ['purpose', 'token_hash', 'user_id', 'email', 'site_id', 'right', 'author_id', 'author', 'created_at', 'expires_at', 'used_at', 'revoked_at'];

    protected $hidden = ['token_hash'];

    protected $casts = ['created_at' => 'immutable_datetime', 'expires_at' => 'immutable_datetime', 'used_at' => 'immutable_datetime', 'revoked_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    public function isOpen(CarbonImmutable $now): bool
    {
        return $this->used_at === null && $this->isInTime($now);
    }

    /** @return Builder<self> invitations to a site that somebody can still accept */
    public static function openInvitations(Site $site, CarbonImmutable $now): Builder
    {
        return self::query()->where('site_id', $site->id)->where('purpose', self::INVITATION)->whereNull('used_at')->whereNull('revoked_at')->where('expires_at', '>', $now->format('Y-m-d H:i:s.v'));
    }

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return BelongsTo<User, $this> */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }
}

<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Database\Factories\UserFactory;
use Illuminate\Database\Eloquent\Factories\HasFactory;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Foundation\Auth\User as Authenticatable;
use Illuminate\Support\Facades\DB;
use Laravel\Sanctum\HasApiTokens;
use Laravel\Sanctum\TransientToken;
use Pellix\Core\Rights\Right;

/**
 * A person who signs in.
 *
 * @property string|null          $codes_secret   of one-time codes, as bytes in base 32; being set up until `codes_since` is set
 * @property CarbonImmutable|null $codes_since
 * @property int|null             $codes_step
 * @property list<string>|null    $recovery_codes hashes of those that were not used
 * @property CarbonImmutable|null $deactivated_at
 * @property CarbonImmutable|null $password_at
 * @property string|null          $openid_issuer  with `openid_subject`: whom the provider of single sign-on means
 * @property string|null          $openid_subject
 * @property bool                 $makes_sites
 * @property-read object{right: string, closed_at: string|null} $pivot where it was read as one of a site's
 */
class User extends Authenticatable
{
    /** @use HasApiTokens<AccessToken> */
    use HasApiTokens;

    /** @use HasFactory<UserFactory> */
    use HasFactory;

    protected $fillable = ['name', 'email', 'password', 'password_at', 'makes_sites'];

    protected $hidden = ['password', 'remember_token', 'codes_secret', 'recovery_codes'];

    protected $casts = [
        'password' => 'hashed', 'codes_secret' => 'encrypted', 'codes_since' => 'immutable_datetime', 'codes_step' => 'integer',
        'recovery_codes' => StoredJson::class, 'makes_sites' => 'boolean', 'deactivated_at' => 'immutable_datetime', 'password_at' => 'immutable_datetime',
    ];

    /** Null on a site that the person does not look after, or that the token which they use is not for. */
    public function rightOn(Site $site): ?Right
    {
        $kept = $this->deactivated_at !== null || $site->deleting_at !== null ? null : DB::table('site_user')->where('site_id', $site->id)->where('user_id', $this->id)->whereNull('closed_at')->value('right');
        $right = $kept === null ? null : Right::from($kept);
        $token = $this->token();

        return $right !== null && $token !== null ? $token->narrowed($site, $right) : $right;
    }

    /** The token that is used at the moment; null for whoever has signed in. */
    public function token(): ?AccessToken
    {
        /** @var AccessToken|TransientToken|null $token */
        $token = $this->currentAccessToken();

        return $token instanceof AccessToken ? $token : null;
    }

    /** Whether one-time codes are asked for. */
    public function usesCodes(): bool
    {
        return $this->codes_since !== null;
    }

    /** @return BelongsToMany<Site, $this> those that the person looks after */
    public function sites(): BelongsToMany
    {
        return $this->belongsToMany(Site::class)->withPivot('right')->wherePivotNull('closed_at')->whereNull('sites.deleting_at');
    }

    /** @return HasMany<SignIn, $this> */
    public function signIns(): HasMany
    {
        return $this->hasMany(SignIn::class);
    }
}

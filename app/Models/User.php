<?php

namespace App\Models;

use App\Rights\Right;
use Database\Factories\UserFactory;
use Illuminate\Database\Eloquent\Factories\HasFactory;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Foundation\Auth\User as Authenticatable;
use Illuminate\Support\Facades\DB;
use Laravel\Sanctum\HasApiTokens;

/**
 * A person who signs in.
 *
 * @property-read object{right: string} $pivot where it was read as one of a site's
 */
class User extends Authenticatable
{
    use HasApiTokens;

    /** @use HasFactory<UserFactory> */
    use HasFactory;

    protected $fillable = ['name', 'email', 'password'];

    protected $hidden = ['password', 'remember_token'];

    protected $casts = ['password' => 'hashed'];

    /** Null on a site that the person does not look after. */
    public function rightOn(Site $site): ?Right
    {
        $right = DB::table('site_user')->where('site_id', $site->id)->where('user_id', $this->id)->value('right');

        return $right === null ? null : Right::from($right);
    }

    /** @return BelongsToMany<Site, $this> */
    public function sites(): BelongsToMany
    {
        return $this->belongsToMany(Site::class)->withPivot('right');
    }
}

<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Laravel\Sanctum\PersonalAccessToken;
use Pellix\Core\Rights\Right;

/**
 * A token of the API: it may on one site what its right says, and never more than its person may there.
 *
 * @property-read User                         $tokenable
 * @property int|null                        $site_id null for one of before tokens had a scope
 * @property string|null                     $right
 * @property \Carbon\CarbonInterface|null    $expires_at
 */
class AccessToken extends PersonalAccessToken
{
    protected $table = 'personal_access_tokens';

    protected $fillable = ['name', 'token', 'abilities', 'expires_at', 'site_id', 'right'];

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** What is left of what its person may do on a site. */
    public function narrowed(Site $site, Right $right): ?Right
    {
        if ($this->site_id !== null && $this->site_id !== $site->id) {
            return null;
        }
        if ($this->right === null) {
            return $right;
        }
        // A right that nobody knows is no permission for everything.
        $most = Right::tryFrom($this->right);

        return $most === null ? null : $right->within($most);
    }
}

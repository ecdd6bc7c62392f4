<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * Somebody who signed in somewhere, until they sign out, are signed out, or stay away.
 *
 * @property string               $method       password, code, recovery-code or single-sign-on
 * @property CarbonImmutable      $at
 * @property CarbonImmutable      $seen_at
 * @property CarbonImmutable      $confirmed_at
 * @property CarbonImmutable|null $ended_at
 */
class SignIn extends Model
{
    public $timestamps = false;

    protected $fillable = ['user_id', 'method', 'address', 'agent', 'at', 'seen_at', 'confirmed_at', 'ended_at'];

    protected $casts = ['at' => 'immutable_datetime', 'seen_at' => 'immutable_datetime', 'confirmed_at' => 'immutable_datetime', 'ended_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<User, $this> */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }
}

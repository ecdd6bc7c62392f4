<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Pellix\Core\SignIn\SecurityMatter;

/**
 * An entry of the security log.
 *
 * @property CarbonImmutable $at
 * @property SecurityMatter  $matter
 */
class SecurityEvent extends Model
{
    public $timestamps = false;

    protected $fillable = ['at', 'matter', 'user_id', 'person', 'site_id', 'address', 'agent', 'note'];

    protected $casts = ['at' => 'immutable_datetime', 'matter' => SecurityMatter::class];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;

/**
 * A mail that this copy kept instead of sending it.
 *
 * @property CarbonImmutable $at
 */
class KeptMail extends Model
{
    public $timestamps = false;

    protected $table = 'mails';

    protected $fillable = ['site_id', 'recipient', 'subject', 'text', 'html', 'at'];

    protected $casts = ['at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

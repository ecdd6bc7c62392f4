<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A site's configuration as it was published under a number. Never changed once it is there. */
class Publication extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'number', 'configuration', 'published_at', 'puts_back', 'author'];

    protected $casts = ['number' => 'integer', 'puts_back' => 'integer', 'published_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

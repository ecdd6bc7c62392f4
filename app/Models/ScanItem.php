<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** One address that a scan has to look at, or has looked at. */
class ScanItem extends Model
{
    public $timestamps = false;

    protected $fillable = ['scan_id', 'what', 'url', 'hash', 'depth', 'done', 'begun'];

    protected $casts = ['done' => 'boolean'];
}

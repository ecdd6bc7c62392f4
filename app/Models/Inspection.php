<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What inspections of one page found, from the first time to the last that they found just this. */
class Inspection extends Model
{
    public $timestamps = false;

    protected $fillable = ['page_id', 'first_at', 'last_at', 'verdict', 'findings'];

    protected $casts = [
        'findings' => StoredJson::class,
        'first_at' => 'immutable_datetime',
        'last_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What counts on a site; experiments use it in a role. */
class Goal extends Model
{
    protected $fillable = ['site_id', 'key', 'name', 'pages'];

    protected $casts = ['pages' => 'array'];
}

<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A goal as it was from some moment on. Never changed once it is there. */
class GoalRevision extends Model
{
    public $timestamps = false;

    protected $fillable = ['goal_id', 'revision', 'definition', 'author_id', 'author', 'from'];

    protected $casts = ['definition' => StoredJson::class, 'from' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

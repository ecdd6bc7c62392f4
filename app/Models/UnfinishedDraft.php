<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** A draft as it was written, while it cannot be read as a whole: apart from the experiment, which many things read. */
class UnfinishedDraft extends Model
{
    public $timestamps = false;

    public $incrementing = false;

    protected $primaryKey = 'experiment_id';

    protected $fillable = ['experiment_id', 'written'];

    protected $casts = ['written' => StoredJson::class];
}

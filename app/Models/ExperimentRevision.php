<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Pellix\Core\Experiments\Revision;
use Pellix\Core\Experiments\Stage;

/** An experiment as it was from some moment on. Never changed once it is there. */
class ExperimentRevision extends Model
{
    public $timestamps = false;

    protected $fillable = ['experiment_id', 'number', 'from', 'stage', 'declared', 'changed', 'author_id', 'author'];

    protected $casts = ['from' => 'immutable_datetime', 'declared' => StoredJson::class, 'changed' => StoredJson::class, 'number' => 'integer'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    public function revision(): Revision
    {
        return new Revision($this->number, $this->from, Stage::from($this->stage), $this->declared);
    }
}

<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Something that is tried on what is known before it counts, in the background: a goal, or an experiment. */
class Trial extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'user_id', 'kind', 'definition', 'state', 'done', 'total', 'result', 'started_at'];

    protected $casts = ['definition' => StoredJson::class, 'result' => StoredJson::class, 'done' => 'integer', 'total' => 'integer', 'started_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }
}

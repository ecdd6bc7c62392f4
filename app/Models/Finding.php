<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/** Something wrong with a site that stays until it is mended or explained. */
class Finding extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'page_id', 'experiment_id', 'identity', 'code', 'severity', 'link', 'message', 'fix', 'since', 'state', 'note'];

    protected $casts = ['since' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Experiment, $this> */
    public function experiment(): BelongsTo
    {
        return $this->belongsTo(Experiment::class);
    }

    /** @return BelongsTo<Page, $this> */
    public function page(): BelongsTo
    {
        return $this->belongsTo(Page::class);
    }
}

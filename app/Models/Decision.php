<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * What was decided of an experiment, or is proposed, with what was known at the time.
 *
 * @property CarbonImmutable           $at
 * @property array<string, mixed>|null $known
 */
class Decision extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'experiment_id', 'state', 'choice', 'because', 'learned', 'by', 'at', 'known'];

    protected $casts = ['known' => StoredJson::class, 'at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Experiment, $this> */
    public function experiment(): BelongsTo
    {
        return $this->belongsTo(Experiment::class)->withTrashed();
    }
}

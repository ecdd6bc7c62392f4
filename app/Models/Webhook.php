<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Pellix\Core\Notices\Wish;

/**
 * An address that is called when there is something to tell.
 *
 * @property Wish            $wish
 * @property CarbonImmutable $created_at
 */
class Webhook extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'name', 'url', 'secret', 'wish', 'digest', 'active', 'author', 'created_at'];

    protected $hidden = ['secret'];

    protected $casts = ['secret' => 'encrypted', 'wish' => Wish::class, 'digest' => 'boolean', 'active' => 'boolean', 'created_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }
}

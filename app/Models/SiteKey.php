<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;

/**
 * A key that a site had before: until it ends it counts as the present one does.
 *
 * @property string                       $key
 * @property int                          $site_id
 * @property \Carbon\CarbonImmutable      $replaced_at
 * @property string                       $replaced_by
 * @property \Carbon\CarbonImmutable      $ends_at
 * @property \Carbon\CarbonImmutable|null $last        when a beacon came with it
 * @property string                       $last_page
 * @property \Carbon\CarbonImmutable|null $removed_at
 */
class SiteKey extends Model
{
    public $timestamps = false;

    public $incrementing = false;

    protected $primaryKey = 'key';

    protected $keyType = 'string';

    protected $fillable = ['key', 'site_id', 'replaced_at', 'replaced_by', 'ends_at', 'removed_at'];

    protected $casts = ['site_id' => 'integer', 'replaced_at' => 'immutable_datetime', 'ends_at' => 'immutable_datetime', 'last' => 'immutable_datetime', 'removed_at' => 'immutable_datetime'];

    /**
     * @param Builder<self> $query
     *
     * @return Builder<self> those that count
     */
    public function scopeCounting(Builder $query): Builder
    {
        return $query->where('ends_at', '>', now('UTC')->format('Y-m-d H:i:s.v'));
    }
}

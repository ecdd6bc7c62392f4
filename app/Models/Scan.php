<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** A run through the pages of a site in the background: to find them, or to inspect them. */
class Scan extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'kind', 'state', 'by', 'author_id', 'done', 'total', 'depth', 'most', 'found', 'notes', 'started_at', 'ended_at'];

    protected $casts = [
        'notes' => StoredJson::class,
        'started_at' => 'immutable_datetime',
        'ended_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return HasMany<ScanItem, $this> */
    public function items(): HasMany
    {
        return $this->hasMany(ScanItem::class);
    }
}

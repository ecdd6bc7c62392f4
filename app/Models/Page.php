<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** A known address of a site, with the result of its last inspection. */
class Page extends Model
{
    public const SOURCES = ['sitemap', 'crawl', 'typed', 'seen'];

    public $timestamps = false;

    protected $fillable = ['site_id', 'url', 'hash', 'source', 'in_sitemap', 'group_name', 'added_at', 'verdict', 'faulty', 'inspected_at'];

    protected $casts = [
        'in_sitemap' => 'boolean',
        'faulty' => 'array',
        'added_at' => 'immutable_datetime',
        'inspected_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return HasMany<Inspection, $this> */
    public function inspections(): HasMany
    {
        return $this->hasMany(Inspection::class);
    }
}

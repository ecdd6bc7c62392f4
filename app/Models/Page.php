<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Pellix\Core\Pages\PageKey;

/** A known address of a site, with the result of its last inspection. */
class Page extends Model
{
    public const SOURCES = ['sitemap', 'crawl', 'typed', 'seen'];

    /** Rank => state; what needs somebody comes first. */
    public const STATES = ['broken', 'doubt', 'stale', 'unseen', 'holds'];

    /** So much of an address is kept to sort and to find by. */
    public const BRIEF_BYTES = 160;

    public $timestamps = false;

    protected $fillable = ['site_id', 'url', 'hash', 'page', 'rank', 'brief', 'cut', 'matched', 'source', 'in_sitemap', 'group_name', 'added_at', 'verdict', 'faulty', 'inspected_at', 'outline'];

    protected $casts = [
        'in_sitemap' => 'boolean',
        'faulty' => StoredJson::class,
        'added_at' => 'immutable_datetime',
        'inspected_at' => 'immutable_datetime',
    ];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    protected static function booted(): void
    {
        // Columns to find, sort and count by, which follow from the address and the verdict.
        static::saving(static function (self $page): void {
            if ($page->isDirty('url')) {
                $page->fill(self::places($page->url, $page->site->page_parameters));
            }
            if ($page->isDirty('verdict', 'inspected_at') || ! $page->exists) {
                $page->rank = self::rankOf(['sound' => 'holds'][$page->verdict] ?? $page->verdict ?? 'unseen');
            }
        });
    }

    /**
     * @param list<string> $parameters that tell one page of the site from another
     *
     * @return array{page: int, brief: string, cut: bool}
     */
    public static function places(string $url, array $parameters): array
    {
        $small = mb_strtolower($url);
        $brief = mb_strcut($small, 0, self::BRIEF_BYTES, 'UTF-8');

        return ['page' => PageKey::of($url, $parameters)->id, 'brief' => $brief, 'cut' => $brief !== $small];
    }

    public static function rankOf(string $state): int
    {
        return (int) array_search($state, self::STATES, true);
    }

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

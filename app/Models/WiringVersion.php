<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Pellix\Core\Wiring\Tags\TagSet;

/** All tags of a site as they were published together. Never changed once it is there. */
class WiringVersion extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'number', 'author_id', 'author', 'note', 'restores', 'tags', 'published_at'];

    protected $casts = ['tags' => StoredJson::class, 'published_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    public function getRouteKeyName(): string
    {
        return 'number';
    }

    public function set(): TagSet
    {
        return TagSet::readable($this->tags);
    }
}

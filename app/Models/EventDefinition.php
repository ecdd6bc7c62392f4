<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/** What a tracking plan says of one event. */
class EventDefinition extends Model
{
    protected $fillable = ['site_id', 'name', 'meaning', 'sent_from', 'schema', 'examples'];

    protected $casts = ['schema' => StoredJson::class, 'examples' => StoredJson::class];

    public function getRouteKeyName(): string
    {
        return 'name';
    }
}

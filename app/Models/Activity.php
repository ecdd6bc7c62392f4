<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Relations\BelongsTo;

/**
 * An entry of the Logbook.
 *
 * @property int                            $site_id
 * @property string                         $thing
 * @property string                         $thing_key
 * @property string                         $thing_name
 * @property string                         $person
 * @property \Carbon\CarbonImmutable        $created_at
 */
class Activity extends \Spatie\Activitylog\Models\Activity
{
    protected $table = 'activity_log';

    protected $dateFormat = 'Y-m-d H:i:s.v';

    protected $casts = ['properties' => 'collection', 'created_at' => 'immutable_datetime', 'updated_at' => 'immutable_datetime'];

    /** @return list<array{field: string, before: mixed, after: mixed}> */
    public function changesMade(): array
    {
        return $this->properties['changes'] ?? [];
    }

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }
}

<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;

/**
 * Something that somebody prepared and asks somebody else to publish: a request of the API, held until somebody who may sends it.
 *
 * @property string                                              $body
 * @property list<array{field: string, before: mixed, after: mixed}> $changes
 * @property string                                              $state      open, done, refused or withdrawn
 * @property CarbonImmutable                                     $at
 * @property CarbonImmutable|null                                $decided_at
 */
class PublishRequest extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'method', 'path', 'body', 'title', 'changes', 'base', 'note', 'author_id', 'author', 'at', 'state', 'decider_id', 'decider', 'decided_at', 'answer'];

    protected $casts = ['changes' => StoredJson::class, 'at' => 'immutable_datetime', 'decided_at' => 'immutable_datetime'];

    protected $attributes = ['state' => 'open', 'decider' => '', 'answer' => ''];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}

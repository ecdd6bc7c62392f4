<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Pellix\Core\Notices\DeliveryState;

/**
 * One thing that is told to one person or one address.
 *
 * @property DeliveryState             $state
 * @property 'trouble'|'digest'|'test' $kind
 * @property array<string, mixed>|null $content
 * @property CarbonImmutable           $at
 * @property CarbonImmutable|null      $next_at
 * @property CarbonImmutable|null      $tried_at
 */
class Delivery extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'mark', 'kind', 'notice_id', 'user_id', 'webhook_id', 'content', 'state', 'tries', 'status', 'said', 'at', 'next_at', 'claimed_until', 'tried_at'];

    protected $casts = ['content' => StoredJson::class, 'state' => DeliveryState::class, 'tries' => 'integer', 'at' => 'immutable_datetime', 'next_at' => 'immutable_datetime', 'claimed_until' => 'immutable_datetime', 'tried_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return BelongsTo<Notice, $this> */
    public function notice(): BelongsTo
    {
        return $this->belongsTo(Notice::class);
    }

    /** @return BelongsTo<User, $this> */
    public function user(): BelongsTo
    {
        return $this->belongsTo(User::class);
    }

    /** @return BelongsTo<Webhook, $this> */
    public function webhook(): BelongsTo
    {
        return $this->belongsTo(Webhook::class);
    }
}

<?php

namespace App\Http\Resources;

use App\Models\Delivery;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin Delivery */
class DeliveryResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $time = static fn (?CarbonImmutable $at): ?string => $at === null ? null : Moment::format($at);

        return [
            'delivery' => $this->id,
            'kind' => $this->kind,
            'way' => $this->webhook_id === null ? 'mail' : 'webhook',
            'to' => $this->webhook->name ?? $this->user->name ?? null,
            'webhook' => $this->webhook_id,
            'message' => $this->notice === null ? null : trim("{$this->notice->experiment?->name}: {$this->notice->message}", ': '),
            'state' => $this->state,
            'tries' => $this->tries,
            'status' => $this->status,
            'said' => $this->said,
            'at' => $time($this->at),
            'tried' => $time($this->tried_at),
            'next' => $time($this->next_at),
        ];
    }
}

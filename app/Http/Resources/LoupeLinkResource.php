<?php

namespace App\Http\Resources;

use App\Models\LoupeLink;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin LoupeLink */
class LoupeLinkResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'link' => $this->id,
            'purpose' => $this->purpose->value,
            'experiment' => $this->experiment?->key,
            'variant' => $this->variant,
            'url' => $this->url,
            // Whoever may revoke it may pass it on, as long as it holds.
            'address' => $this->isOpen(CarbonImmutable::now('UTC')) ? $this->address() : null,
            'recipient' => $this->recipient,
            'author' => $this->author,
            'created' => Moment::format($this->created_at),
            'ends' => Moment::format($this->expires_at),
            'revoked' => $this->revoked_at === null ? null : Moment::format($this->revoked_at),
            'used' => $this->used_at === null ? null : Moment::format($this->used_at),
            'pages' => $this->pages,
        ];
    }
}

<?php

namespace App\Http\Resources;

use App\Models\LoupeLink;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Loupe\Purpose;

/** @mixin LoupeLink */
class LoupeLinkResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $isOpen = $this->isOpen(CarbonImmutable::now('UTC'));

        return [
            'link' => $this->id,
            'open' => $isOpen,
            'purpose' => $this->purpose->value,
            'experiment' => $this->experiment?->key,
            'variant' => $this->variant,
            'url' => $this->url,
            // A preview may be passed on by whoever may revoke it, as long as it holds; a link under somebody's name is theirs alone.
            'address' => $isOpen && ($this->purpose === Purpose::Preview || $this->author_id === $request->user()?->id) ? $this->address() : null,
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

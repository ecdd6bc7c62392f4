<?php

namespace App\Http\Resources;

use App\Models\Brief;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Brief */
class BriefResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $open = $this->isOpen(CarbonImmutable::now('UTC'));

        return [
            ...$this->resource->only('id', 'recipient', 'message', 'guard_ms', 'author', 'created_at', 'expires_at', 'revoked_at', 'read_at'),
            'address' => $open ? $this->address() : null,
        ];
    }
}

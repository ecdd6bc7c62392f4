<?php

namespace App\Http\Resources;

use App\Models\WiringVersion;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin WiringVersion */
class WiringVersionResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return $this->resource->only('number', 'author', 'note', 'restores', 'published_at', 'tags');
    }
}

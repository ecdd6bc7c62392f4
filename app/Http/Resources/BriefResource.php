<?php

namespace App\Http\Resources;

use App\Briefs\ChangeBrief;
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
            'about' => $this->experiment === null ? null : [
                'experiment' => $this->experiment->key, 'name' => $this->experiment->name, 'variant' => $this->content['name'] ?? $this->variant,
                ...array_intersect_key(ChangeBrief::takeover($this->experiment, (string) $this->variant), ['known' => 0, 'taken' => 0]),
            ],
        ];
    }
}

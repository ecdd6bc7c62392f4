<?php

namespace App\Http\Resources;

use App\Models\AccessToken;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin AccessToken */
class TokenResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'id' => $this->id, 'name' => $this->name, 'site' => $this->site?->key, 'site_name' => $this->site?->name, 'right' => $this->right,
            'created_at' => $this->created_at, 'expires_at' => $this->expires_at, 'last_used_at' => $this->last_used_at,
        ];
    }
}

<?php

namespace App\Http\Resources;

use App\Models\Site;
use App\Models\User;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin User */
class PersonResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'name' => $this->name,
            'email' => $this->email,
            'sites' => $this->sites()->orderBy('name')->get()->map(static fn (Site $site): array => [
                'key' => $site->key, 'name' => $site->name, 'right' => $site->pivot->right,
            ])->all(),
        ];
    }
}

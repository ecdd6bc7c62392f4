<?php

namespace App\Http\Resources;

use App\Models\SignIn;
use App\SignIn\Current;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin SignIn */
class SignInResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'id' => $this->id, 'method' => $this->method, 'address' => $this->address, 'agent' => $this->agent, 'at' => $this->at, 'seen_at' => $this->seen_at,
            'is_this' => $this->id === app(Current::class)->get()?->id,
        ];
    }
}

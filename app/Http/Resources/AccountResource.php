<?php

namespace App\Http\Resources;

use App\Models\User;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin User */
class AccountResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'name' => $this->name, 'email' => $this->email, 'password_at' => $this->password_at,
            'codes_since' => $this->codes_since, 'recovery_codes_left' => $this->usesCodes() ? count($this->recovery_codes ?? []) : null,
        ];
    }
}

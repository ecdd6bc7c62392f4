<?php

namespace App\Http\Resources;

use App\Models\AccountLink;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin AccountLink */
class InvitationResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return ['id' => $this->id, 'email' => $this->email, 'right' => $this->right, 'author' => $this->author, 'created_at' => $this->created_at, 'expires_at' => $this->expires_at];
    }
}

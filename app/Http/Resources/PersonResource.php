<?php

namespace App\Http\Resources;

use App\Models\Site;
use App\Models\User;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Rights\Right;

/** @mixin User */
class PersonResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $token = $this->token();
        $sites = [];
        /** @var Site $site */
        foreach ($this->sites()->orderBy('name')->get() as $site) {
            $right = Right::from($site->pivot->right);
            $right = $token === null ? $right : $token->narrowed($site, $right);
            $right === null || $sites[] = ['key' => $site->key, 'name' => $site->name, 'right' => $right->value, 'archived' => $site->archived_at !== null];
        }

        return ['name' => $this->name, 'email' => $this->email, 'makes_sites' => $this->makes_sites && $token === null, 'sites' => $sites];
    }
}

<?php

namespace App\Http\Resources;

use App\Models\Site;
use App\Models\SiteKey;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Site */
class SiteKeysResource extends JsonResource
{
    /** Those that have ended lately are shown too: their pages may still be there. */
    private const MOST = 50;

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'key' => $this->key,
            'since' => $this->key_since ?? $this->created_at,
            'earlier' => $this->earlierKeys()->orderByDesc('replaced_at')->limit(self::MOST)->get()->map(static fn (SiteKey $one): array => [
                'key' => $one->key, 'replaced_at' => $one->replaced_at, 'replaced_by' => $one->replaced_by, 'ends_at' => $one->ends_at, 'counts' => $one->ends_at->isFuture(),
                'last' => $one->last, 'last_page' => $one->last_page,
            ])->all(),
        ];
    }
}

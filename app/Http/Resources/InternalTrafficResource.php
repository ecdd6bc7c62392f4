<?php

namespace App\Http\Resources;

use App\Models\Site;
use App\Sites\InternalRules;
use App\Sites\OwnCounts;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Site */
class InternalTrafficResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            ...InternalRules::of($this->resource)->toArray(),
            'days' => OwnCounts::DAYS,
            'seen' => OwnCounts::of($this->resource),
            // Whoever asks may want to leave out the place that they are at.
            'your_address' => $request->ip(),
        ];
    }
}

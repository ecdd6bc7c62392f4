<?php

namespace App\Http\Resources;

use App\Models\Site;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Site */
class SiteResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'key' => $this->key,
            'name' => $this->name,
            'hosts' => $this->hosts,
            'time_zone' => $this->time_zone,
            'currency' => $this->currency,
            'srm_alpha' => $this->srm_alpha,
            'snippet' => $this->snippet(),
            'demo_origin' => config('pellix.demo_origin'),
        ];
    }
}

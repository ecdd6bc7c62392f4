<?php

namespace App\Http\Resources;

use App\Models\Site;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Wiring\Guard;

/** @mixin Site */
class SiteResource extends JsonResource
{
    /** How long the flicker guards that are offered hide a page, the default first. */
    private const GUARDS = [Guard::DEFAULT_MILLISECONDS, 500, 1000, 2000, 3000, 4000];

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
            'guards' => array_map(static fn (int $ms): array => ['milliseconds' => $ms, 'text' => Guard::text($ms)], self::GUARDS),
            'demo_origin' => config('pellix.demo_origin'),
        ];
    }
}

<?php

namespace App\Http\Resources;

use App\Models\Site;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Site */
class SiteSettingsResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'name' => $this->name, 'hosts' => $this->hosts, 'time_zone' => $this->time_zone, 'currency' => $this->currency, 'cookie_days' => $this->cookie_days,
            'session_minutes' => $this->session_minutes, 'srm_alpha' => $this->srm_alpha, 'fresh_seconds' => $this->fresh_seconds, 'two_people' => $this->two_people,
            'archived_at' => $this->archived_at, 'made_at' => $this->created_at,
            'since' => (object) array_intersect_key($this->settings_since ?? [], array_flip(['name', 'hosts', 'time_zone', 'currency', 'cookie_days', 'session_minutes', 'srm_alpha', 'fresh_seconds', 'two_people', 'internal', 'consent_mode', 'honour_gpc', 'data_layer', 'page_parameters'])),
        ];
    }
}

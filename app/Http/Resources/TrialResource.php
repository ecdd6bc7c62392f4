<?php

namespace App\Http\Resources;

use App\Models\Trial;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Trial */
class TrialResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $result = $this->result;
        foreach (array_keys($result['counts'] ?? []) as $i) {
            $result['counts'][$i]['values'] = (object) $result['counts'][$i]['values'];
        }

        return [...$this->resource->only('id', 'state', 'done', 'total', 'started_at'), 'result' => $result];
    }
}

<?php

namespace App\Http\Resources;

use App\Models\Scan;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Scan */
class ScanResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        [$done, $total] = [$this->done, $this->total];
        $took = $this->started_at->diffInSeconds($this->ended_at ?? CarbonImmutable::now('UTC'), true);

        return [
            'id' => $this->id,
            'kind' => $this->kind,
            'state' => $this->state,
            'by' => $this->by,
            'done' => $done,
            'total' => $total,
            'found' => $this->found,
            'seconds_left' => $this->state === 'running' && $done > 0 ? (int) ceil($took / $done * ($total - $done)) : null,
            'notes' => $this->notes,
            'started_at' => $this->started_at,
            'ended_at' => $this->ended_at,
        ];
    }
}

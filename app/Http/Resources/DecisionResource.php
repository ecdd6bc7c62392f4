<?php

namespace App\Http\Resources;

use App\Models\Decision;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin Decision */
class DecisionResource extends JsonResource
{
    public static $wrap = null;

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'id' => $this->id,
            'experiment' => $this->experiment->key,
            'name' => $this->experiment->name,
            'hypothesis' => $this->experiment->hypothesis,
            'state' => $this->state,
            'choice' => $this->choice,
            'because' => $this->because,
            'learned' => $this->learned,
            'by' => $this->by,
            'at' => Moment::format($this->at),
            'known' => $this->known['sentence'] ?? null,
            'verdict' => $this->known['goals'][0]['verdict'] ?? null,
            'reason' => $this->known['gate']['reason'] ?? null,
        ];
    }
}

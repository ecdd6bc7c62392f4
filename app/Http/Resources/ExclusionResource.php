<?php

namespace App\Http\Resources;

use App\Models\Exclusion;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin Exclusion */
class ExclusionResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'id' => $this->id,
            'exclusion' => $this->definition,
            'everywhere' => $this->experiment_id === null && $this->audit_log_id === null,
            'reason' => $this->reason,
            'author' => $this->author,
            'made' => Moment::format($this->made_at),
            'withdrawn' => $this->withdrawn_at === null ? null : Moment::format($this->withdrawn_at),
            'withdrawn_by' => $this->withdrawn_by,
        ];
    }
}

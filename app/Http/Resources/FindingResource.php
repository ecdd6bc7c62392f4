<?php

namespace App\Http\Resources;

use App\Models\Finding;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Finding */
class FindingResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            ...$this->resource->only('id', 'code', 'severity', 'link', 'message', 'fix', 'since', 'state', 'note'),
            'page' => $this->page === null ? null : ['id' => $this->page->id, 'url' => $this->page->url],
        ];
    }
}

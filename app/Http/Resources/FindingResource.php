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
            'experiment' => $this->experiment === null ? null : ['key' => $this->experiment->key, 'name' => $this->experiment->name],
            'page' => $this->page === null ? null : ['id' => $this->page->id, 'url' => $this->page->url],
        ];
    }
}

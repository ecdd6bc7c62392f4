<?php

namespace App\Http\Resources;

use App\Models\Rehearsal;
use App\Rehearsals\Report;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin Rehearsal */
class RehearsalResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return Report::head($this->resource);
    }
}

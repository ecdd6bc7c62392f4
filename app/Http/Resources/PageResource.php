<?php

namespace App\Http\Resources;

use App\Inventory\Coverage;
use App\Models\Inspection;
use App\Models\Page;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/**
 * A page with what its inspections found, the newest first.
 *
 * @mixin Page
 */
class PageResource extends JsonResource
{
    private const INSPECTIONS = 20;

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            ...Coverage::of($this->site)->row($this->resource),
            'added_at' => $this->added_at,
            'inspections' => $this->inspections()->latest('last_at')->limit(self::INSPECTIONS)->get()->map(static fn (Inspection $one): array => [
                'first_at' => $one->first_at, 'last_at' => $one->last_at, 'verdict' => $one->verdict, 'findings' => $one->findings,
            ])->all(),
        ];
    }
}

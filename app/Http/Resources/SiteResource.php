<?php

namespace App\Http\Resources;

use App\Models\Site;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\SnippetForms;

/** @mixin Site */
class SiteResource extends JsonResource
{
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
            'forms' => array_map(static fn (array $form): array => [
                ...$form,
                'lines' => array_map(static fn (array $line): array => ['code' => $line[0], 'what' => $line[1]], $form['lines']),
            ], SnippetForms::all($this->key, (string) config('app.url'))),
            'guards' => array_map(static fn (int $ms): array => ['milliseconds' => $ms, 'text' => Guard::text($ms)], Guard::OFFERED),
            'demo_origin' => config('pellix.demo_origin'),
        ];
    }
}

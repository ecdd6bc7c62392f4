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
            'cookie_days' => $this->cookie_days,
            'snippet' => $this->snippet(),
            'forms' => array_map(static fn (array $form): array => [
                ...$form,
                'lines' => array_map(static fn (array $line): array => ['code' => $line[0], 'what' => $line[1]], $form['lines']),
            ], SnippetForms::all($this->key, (string) config('app.url'))),
            'guards' => array_map(fn (int $ms): array => [
                'milliseconds' => $ms,
                'text' => Guard::text($ms),
                'narrow' => $this->touched() === [] ? null : Guard::text($ms, $this->touched()),
            ], Guard::OFFERED),
            'mark' => self::mark($request),
            'demo_origin' => config('pellix.demo_origin'),
        ];
    }

    /** By which this person's own visits can be told from others: an opaque text, the same each time. */
    private static function mark(Request $request): string
    {
        return substr(hash_hmac('sha256', 'mark '.$request->user()?->getAuthIdentifier(), (string) config('app.key')), 0, 12);
    }

    /** @return list<string> the selectors of what experiments change that run, or serve a variant to everybody; none where a page may be left, which is hidden whole */
    private function touched(): array
    {
        return once(function (): array {
            $running = $this->experiments()->where(static fn ($any) => $any->where('state', 'running')->orWhereNotNull('kept_variant'))->get(['kind', 'variants']);

            return $running->contains('kind', 'redirect') ? [] : $running->pluck('variants')
                ->flatten(1)->flatMap(static fn (mixed $variant): array => is_array($variant['changes'] ?? null) ? array_column($variant['changes'], 'selector') : [])->unique()->values()->all();
        });
    }
}

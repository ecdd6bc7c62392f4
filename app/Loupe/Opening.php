<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Collector\Apart;
use App\Collector\Mark;
use App\Models\Experiment;
use App\Models\LoupeLink;
use App\Publishing\Publisher;
use Carbon\CarbonImmutable;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;
use Pellix\Core\Loupe\Purpose;

/** All that the Loupe needs to know when it opens on a page. */
final readonly class Opening
{
    public function __construct(private Publisher $publisher, private Drafting $drafting)
    {
    }

    /**
     * @param CarbonImmutable|null $at the time that the page is to be shown at: what is scheduled until then has begun or ended; null for now
     *
     * @return array<string, mixed>
     *
     * @throws Refused where what it is to show cannot be read
     */
    public function of(LoupeLink $link, CarbonImmutable $now, ?CarbonImmutable $at = null): array
    {
        $site = $link->site;
        try {
            $configuration = $this->publisher->configuration($site, $link->purpose === Purpose::Change ? Drafting::declared($link) : $link->experiment?->declared(), $at);
        } catch (InvalidInput $e) {
            throw new Refused("The experiment cannot be shown: {$e->field}: {$e->getMessage()}");
        }
        $configuration['collector'] .= '?preview='.(new Mark(Apart::Preview, (string) config('app.key')))->give($site->id, $link->id, $now->getTimestamp());
        $shown = $link->experiment !== null && ! $link->purpose->shows() ? [$link->experiment] : $site->experiments()->whereIn('key', array_column($configuration['experiments'], 'key'))->get()->all();

        return [
            'pellix' => 1,
            'purpose' => $link->purpose->value,
            'site' => $site->name,
            'time_zone' => $site->time_zone,
            'made_by' => $link->author,
            'recipient' => $link->recipient,
            'ends' => Moment::format($link->expires_at),
            // Where whoever works on the site follows this browser.
            'feed' => $link->purpose->shows() ? rtrim((string) config('app.url'), '/')."/sites/{$site->key}/measures/feed?preview=1" : null,
            'experiment' => $link->experiment?->key,
            'variant' => $link->variant,
            'experiments' => array_map(static fn (Experiment $one): array => [
                'key' => $one->key, 'name' => $one->name, 'state' => $one->state, 'epoch' => max(1, count($one->file()['epochs'])),
                'variants' => array_map(static fn (array $variant): array => ['key' => $variant['key'], 'name' => $variant['name'] ?? $variant['key'], 'control' => $variant['control'] ?? false], $one->file()['variants']),
            ], $shown),
            'draft' => $link->purpose === Purpose::Change ? $this->drafting->of($link) : null,
            'configuration' => $configuration,
        ];
    }
}

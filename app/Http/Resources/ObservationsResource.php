<?php

namespace App\Http\Resources;

use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Chain\Chain;
use Pellix\Core\Chain\EpochSeen;
use Pellix\Core\Chain\GoalSeen;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\Seen;
use Pellix\Core\Chain\VariantSeen;

/**
 * What was observed of an experiment, with its chain.
 *
 * @property Observations $resource
 */
class ObservationsResource extends JsonResource
{
    /** @var array<string, mixed>|null */
    private ?array $counted = null;

    /**
     * @param array<string, mixed>      $site  how far the figures of the site are
     * @param array<string, mixed>|null $count how far those of the experiment are; null where nobody has begun
     */
    public function counted(array $site, ?array $count): self
    {
        $own = $site['state'] === 'rebuilding' ? $site : $count ?? ['state' => 'building', 'done' => 0, 'total' => 0];
        $this->counted = ['state' => $own['state'], 'done' => $own['done'], 'total' => $own['total'], 'as_of' => $site['as_of'], 'error' => $count['error'] ?? null];

        return $this;
    }

    /** @var array{silent: bool, words: string}|null */
    private ?array $received = null;

    /** @param array{silent: bool, words: string}|null $received of one that runs */
    public function received(?array $received): self
    {
        $this->received = $received;

        return $this;
    }

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $seen = $this->resource;

        return [
            'chain' => ChainResource::of(Chain::judge($seen)),
            'received' => $this->received,
            'site_views' => self::seen($seen->siteViews),
            'page_views' => self::seen($seen->pageViews),
            'addresses' => $seen->addresses,
            'entered' => self::seen($seen->entered),
            'visitors' => $seen->exposedVisitors(),
            'crossed' => $seen->crossed,
            'moved' => $seen->moved,
            'srm' => $seen->ratio?->toArray(),
            'epochs' => array_map(static fn (EpochSeen $epoch): array => [
                'from' => $epoch->from, 'share' => $epoch->share, 'counts' => $epoch->counts, 'weights' => $epoch->weights, 'srm' => $epoch->ratio?->toArray(),
            ], $seen->epochs),
            'can_alarm' => $seen->canAlarm,
            'recomputed' => ['checked' => $seen->recomputed, 'differing' => $seen->disagreeing],
            'variants' => array_map(static fn (VariantSeen $variant, int $i): array => [
                'key' => $variant->key,
                'name' => $variant->name,
                'weight' => $variant->weight,
                'changes' => $variant->changes,
                'expected' => $seen->ratio?->expected[$i],
                'exposures' => self::seen($variant->exposures),
                'applied' => self::seen($variant->applied),
                'missed' => self::seen($variant->missed),
                'reverted' => self::seen($variant->reverted),
                'failed' => self::seen($variant->failed),
            ], $seen->variants, array_keys($seen->variants)),
            'goals' => array_map(static fn (GoalSeen $goal): array => [
                'key' => $goal->key,
                'name' => $goal->name,
                'role' => $goal->role,
                'everyone' => self::seen($goal->everyone),
                'variants' => array_map(static fn (VariantSeen $variant, ?float $rate): array => [
                    'key' => $variant->key,
                    'hits' => self::seen($goal->variants[$variant->key] ?? new Seen()),
                    'rate' => $rate,
                ], $seen->variants, $goal->rates($seen->variants)),
                'epochs' => count($goal->epochs) > 1 ? $goal->epochs : [],
            ], $seen->goals),
            'inspected' => [
                'known' => $seen->inspected->known,
                'inspected' => $seen->inspected->inspected,
                'sound' => $seen->inspected->sound(),
                'unreachable' => $seen->inspected->unreachable,
                'faulty' => $seen->inspected->faulty,
                'last' => $seen->inspected->last,
            ],
            'accepted' => $seen->accepted,
            'rejected' => self::seen($seen->rejected),
            'common_reason' => $seen->commonReason,
            'counted' => $this->counted,
        ];
    }

    /** @return array{count: int, visitors: int, last: \DateTimeImmutable|null} */
    private static function seen(Seen $seen): array
    {
        return ['count' => $seen->count, 'visitors' => $seen->visitors, 'last' => $seen->last];
    }
}

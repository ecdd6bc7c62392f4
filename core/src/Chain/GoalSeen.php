<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

use Pellix\Core\Statistics\StratifiedRates;

/** One goal of an experiment, as observed. */
final readonly class GoalSeen
{
    /**
     * @param Seen                $everyone hits by any visitor of the site
     * @param array<string, Seen> $variants hits at or after the first exposure, per variant key
     * @param list<array{units: list<int>, reached: list<int>}> $epochs visitors who entered in each epoch, and how many of them reached it, per variant in their order
     */
    public function __construct(
        public string $key,
        public string $name,
        public string $role,
        public Seen $everyone,
        public array $variants,
        public array $epochs = [],
    ) {
    }

    /**
     * The part of each variant's visitors who reached the goal: of several epochs joined, so that what the weights did is not
     * taken for what the variants did; null where there is none.
     *
     * @param list<VariantSeen> $variants
     *
     * @return list<float|null>
     */
    public function rates(array $variants): array
    {
        return count($this->epochs) > 1 ? (new StratifiedRates($this->epochs))->rates() : array_map($this->plainRate(...), $variants);
    }

    /** The part of all of a variant's visitors, whichever epoch they entered in; null while there is none. */
    public function plainRate(VariantSeen $variant): ?float
    {
        $exposed = $variant->exposures->visitors;

        return $exposed === 0 ? null : ($this->variants[$variant->key] ?? new Seen())->visitors / $exposed;
    }

    public function hits(): int
    {
        return array_sum(array_map(static fn (Seen $seen): int => $seen->count, $this->variants));
    }
}

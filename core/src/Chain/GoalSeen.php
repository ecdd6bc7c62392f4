<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** One goal of an experiment, as observed. */
final readonly class GoalSeen
{
    /**
     * @param Seen                $everyone hits by any visitor of the site
     * @param array<string, Seen> $variants hits at or after the first exposure, per variant key
     */
    public function __construct(
        public string $key,
        public string $name,
        public string $role,
        public Seen $everyone,
        public array $variants,
    ) {
    }

    /** The part of a variant's exposed visitors who reached the goal; null while there is none. */
    public function rate(VariantSeen $variant): ?float
    {
        $exposed = $variant->exposures->visitors;

        return $exposed === 0 ? null : ($this->variants[$variant->key] ?? new Seen())->visitors / $exposed;
    }

    public function hits(): int
    {
        return array_sum(array_map(static fn (Seen $seen): int => $seen->count, $this->variants));
    }
}

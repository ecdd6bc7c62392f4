<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** A condition on facts, or a combination of such. The format is described in docs/formats.md. */
interface Rule
{
    public function matches(Facts $facts): bool;

    /**
     * What it says where not every fact is known: null where its answer hangs on one that is not (Kleene's strong logic).
     *
     * @param callable(string): bool $isKnown whether a fact is known at all, be it that there is none
     */
    public function judge(Facts $facts, callable $isKnown): ?bool;

    /**
     * The conditions that its answer hangs on, from left to right.
     *
     * @param callable(string): bool $isKnown
     *
     * @return list<Condition>
     */
    public function decisive(Facts $facts, callable $isKnown): array;

    /** @return iterable<Condition> every leaf, from left to right */
    public function conditions(): iterable;

    /** @return array<string, mixed> the rule in its JSON form */
    public function toArray(): array;
}

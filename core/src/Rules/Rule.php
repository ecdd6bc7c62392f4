<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** A condition on facts, or a combination of such. The format is described in docs/formats.md. */
interface Rule
{
    public function matches(Facts $facts): bool;

    /** @return iterable<Condition> every leaf, from left to right */
    public function conditions(): iterable;

    /** @return array<string, mixed> the rule in its JSON form */
    public function toArray(): array;
}

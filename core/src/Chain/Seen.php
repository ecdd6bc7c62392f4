<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** How much of something was observed: occurrences, distinct visitors, and when last. */
final readonly class Seen
{
    public function __construct(public int $count = 0, public int $visitors = 0, public ?\DateTimeImmutable $last = null)
    {
    }

    public function nothing(): bool
    {
        return $this->count === 0;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/** How many visitors each variant needs, in the order of the weights. */
final readonly class Sizes
{
    /** @param non-empty-list<int> $each */
    public function __construct(public array $each)
    {
    }

    public function total(): int
    {
        return array_sum($this->each);
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/** Where one unit stands: in or out, its variant (null when out), and its bucket from 0 to 9999. */
final readonly class Assignment
{
    public function __construct(public bool $in, public ?string $variant, public int $bucket)
    {
    }
}

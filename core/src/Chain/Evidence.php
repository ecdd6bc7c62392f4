<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** One dated observation: what was seen, when last, and by what. */
final readonly class Evidence
{
    public function __construct(public string $what, public ?\DateTimeImmutable $at, public string $by)
    {
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** Something that is to be told at once, and what it is about. */
final readonly class Alarm
{
    /** @param list<string> $areas see `Watch` */
    public function __construct(public Finding $finding, public array $areas)
    {
    }
}

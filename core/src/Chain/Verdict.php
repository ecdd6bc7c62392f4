<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** The state of one link, in words, with the evidence that it rests on. */
final readonly class Verdict
{
    /** @param list<Evidence> $evidence */
    public function __construct(public Link $link, public State $state, public string $words, public array $evidence = [])
    {
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Chain\Link;

/** Something that works, as a browser met it. */
final readonly class Proof
{
    public function __construct(public Link $link, public string $words, public ?string $variant = null, public ?Screen $screen = null, public ?string $goal = null)
    {
    }

    /** @return array{link: string, words: string, variant: string|null, screen: string|null, goal: string|null} */
    public function toArray(): array
    {
        return ['link' => $this->link->value, 'words' => $this->words, 'variant' => $this->variant, 'screen' => $this->screen?->value, 'goal' => $this->goal];
    }
}

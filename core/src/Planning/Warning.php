<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/** A caution with its reason, in words. */
final readonly class Warning
{
    public function __construct(public Caution $caution, public string $words)
    {
    }

    /** @return array{code: string, words: string} */
    public function toArray(): array
    {
        return ['code' => $this->caution->value, 'words' => $this->words];
    }
}

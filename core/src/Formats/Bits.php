<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Yes or no for each of a known number of things, an eighth of a byte each. */
final class Bits
{
    private string $bytes;

    public function __construct(int $number)
    {
        $this->bytes = str_repeat("\0", intdiv($number, 8) + 1);
    }

    public function set(int $place): void
    {
        $this->bytes[$place >> 3] = chr(ord($this->bytes[$place >> 3]) | 1 << ($place & 7));
    }

    /** Yes where either says so; the other is of as many things. */
    public function or(self $other): self
    {
        $both = clone $this;
        $both->bytes = $this->bytes | $other->bytes;

        return $both;
    }

    public function has(int $place): bool
    {
        return (ord($this->bytes[$place >> 3]) & 1 << ($place & 7)) !== 0;
    }
}

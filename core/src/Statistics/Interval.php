<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** Between what and what something lies, at a level of confidence. */
final readonly class Interval
{
    public function __construct(public float $low, public float $high)
    {
    }

    public static function around(float $value, float $half): self
    {
        return new self($value - $half, $value + $half);
    }

    public function within(float $least, float $most): self
    {
        return new self(max($least, min($most, $this->low)), max($least, min($most, $this->high)));
    }

    public function has(float $value): bool
    {
        return $value >= $this->low && $value <= $this->high;
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Brick\Math\BigDecimal;

/** A sum of decimals, exact however many and however large they are: what reads 0.1 is a tenth. */
final class Sum
{
    /** Values that are larger, or have more places, are added in the slow way. */
    private const LARGEST = 1e6;
    private const MICRO = 1_000_000;
    private const FULL = 4_000_000_000_000_000_000;

    private int $micros = 0;

    private ?BigDecimal $rest = null;

    public function add(float $value): void
    {
        $micros = round($value * self::MICRO);
        if (abs($value) <= self::LARGEST && $micros / self::MICRO === $value) {
            $this->micros += (int) $micros;
            if (abs($this->micros) > self::FULL) {
                $this->rest = $this->exact();
                $this->micros = 0;
            }
        } else {
            $this->rest = ($this->rest ?? BigDecimal::zero())->plus(self::decimal($value));
        }
    }

    public function plus(self $other): void
    {
        $this->rest = $this->exact()->plus($other->exact());
        $this->micros = 0;
    }

    /** As near as a number of JSON comes. */
    public function toFloat(): float
    {
        return $this->rest === null ? $this->micros / self::MICRO : $this->exact()->toFloat();
    }

    private function exact(): BigDecimal
    {
        return BigDecimal::ofUnscaledValue($this->micros, 6)->plus($this->rest ?? BigDecimal::zero());
    }

    /** The shortest decimal that reads as this number. */
    private static function decimal(float $value): BigDecimal
    {
        return BigDecimal::of((string) json_encode($value));
    }
}

<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** Sizes of values that are close to each other: each is 2 % larger than the one before, and negative ones stand below. */
final class Sizes
{
    private const GROWTH = 1.02;

    /** What is smaller counts as that. */
    private const SMALLEST = 1e-6;

    /** Of a value other than 0. */
    public static function of(float $value): int
    {
        $size = 1 + (int) floor(log(max(abs($value), self::SMALLEST) / self::SMALLEST) / log(self::GROWTH));

        return $value < 0 ? -$size : $size;
    }
}

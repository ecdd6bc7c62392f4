<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/** Places strings evenly in the interval [0, 1). */
final class UnitInterval
{
    /**
     * `MurmurHash3_x86_32(s, seed 0) / 2^32`, over the bytes of the string (UTF-8).
     *
     * A 32-bit integer over a power of two is exact in a double, so PHP and the browser agree to the last bit.
     * Source: Austin Appleby, MurmurHash3 (SMHasher, public domain); PHP ships it as `murmur3a`.
     */
    public static function place(string $s): float
    {
        /** @var array{1: int} $word */
        $word = unpack('N', hash('murmur3a', $s, true));

        return $word[1] / 4294967296;
    }
}
